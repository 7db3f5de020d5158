import type { ActivityKinds } from '../activity/activity-kind';
import type { Answer } from '../condition/answer';
import { type Account, explain } from '../condition/explain';
import type { Facts } from '../condition/facts';
import type { Instant } from '../record/keys';
import type { RecordFacts } from '../record/record';
import { countActivities } from './activity-signal';
import type { Seen } from './motion';
import { MICRO } from './points';
import type { ActivitySignal, Axis, ReadySignal, SilenceSignal } from './signal';
import { countSilence, silentSince } from './silence-signal';

export type ScoredRecord = Pick<RecordFacts, 'activities' | 'arrived'>;

/** The points that one signal gave a record, and why. */
export interface SignalOutcome {
  readonly signal: string;
  readonly axis: Axis;
  readonly answer: Answer;
  /** In points; 0 when the answer is not "yes". */
  readonly points: number;
  /** For attributes: why. */
  readonly account: Account | null;
  /** For activities: how many there were, how many counted, and when the newest was. For silence: days, steps, since when. */
  readonly seen: {
    readonly of: 'activities' | 'silence';
    readonly count: number;
    readonly counted: number;
    readonly newest: Instant | null;
  } | null;
}

/** A signal for activities or silence as an outcome. */
function outcomeOf(signal: ActivitySignal | SilenceSignal, { count, counted, newest, micro }: Seen): SignalOutcome {
  return {
    signal: signal.key,
    axis: signal.axis,
    answer: counted > 0 ? 'yes' : 'no',
    points: micro / MICRO,
    account: null,
    seen: { of: signal.kind === 'silence' ? 'silence' : 'activities', count, counted, newest },
  };
}

/**
 * The points that a signal gives a record at an instant, whether it is on or not.
 *
 * @param kinds they say whose activities break silence
 */
export function signalOutcome(
  signal: ReadySignal,
  kinds: ActivityKinds,
  record: ScoredRecord,
  facts: Facts,
  asOf: Instant,
): SignalOutcome {
  switch (signal.kind) {
    case 'activity':
      return outcomeOf(signal, countActivities(signal, record.activities, asOf));
    case 'silence':
      return outcomeOf(signal, countSilence(signal, silentSince(kinds, record.activities, record.arrived, asOf), asOf));
    case 'attribute': {
      const account = explain(signal.ready, facts);
      return {
        signal: signal.key,
        axis: signal.axis,
        answer: account.answer,
        points: account.answer === 'yes' ? signal.points : 0,
        account,
        seen: null,
      };
    }
  }
}
