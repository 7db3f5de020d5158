import type { Answer } from '../condition/answer';
import { type Account, explain, unjudgedFields } from '../condition/explain';
import type { Facts } from '../condition/facts';
import type { ReadyCondition } from '../condition/ready';
import type { ActivityKinds } from '../activity/activity-kind';
import type { Instant } from '../record/keys';
import type { LeadRecord } from '../record/record';
import { countActivities, countSilence, heldTo, type Seen, silentSince } from './activity-points';
import { type Micro, MICRO, toMicro, total, type Total } from './points';
import type { ActivitySignal, AttributeSignal, Axis, ScoreSet, SignalGroup, SilenceSignal } from './score-set';

export type ReadySignal = (AttributeSignal & { readonly ready: ReadyCondition }) | ActivitySignal | SilenceSignal;
export type ReadyScoreSet = Omit<ScoreSet, 'signals'> & {
  readonly signals: readonly ReadySignal[];
  /** Its entry condition, bound. */
  readonly ready: ReadyCondition;
  /** They say whose activities break silence. */
  readonly kinds: ActivityKinds;
};

/** What one signal gave a record. */
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

/** A group whose signals came to more than its cap. */
export interface GroupOutcome {
  readonly group: string;
  readonly axis: Axis;
  /** What its signals gave together, and what was left of it, in points. */
  readonly sum: number;
  readonly held: number;
}

/** An axis without a score names the fields that can't be judged; none, where no set admits the record. */
export type AxisScore =
  ({ readonly judged: true } & Total) | { readonly judged: false; readonly fields: readonly string[] };

/** What one score set gives a record. */
export interface SetScore {
  readonly set: string;
  readonly fit: AxisScore;
  readonly engagement: AxisScore;
  readonly signals: readonly SignalOutcome[];
  /** Only those that were held. */
  readonly held: readonly GroupOutcome[];
}

/** What a signal for activities or silence found, as an outcome. */
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

function judgeSignal(
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

function holdGroups(set: ReadyScoreSet, sums: ReadonlyMap<string, Micro>): (readonly [SignalGroup, Micro, Micro])[] {
  return set.groups.flatMap((group) => {
    const sum = sums.get(group.key);
    return sum === undefined ? [] : [[group, sum, heldTo(group.cap, sum)] as const];
  });
}

function scoreAxis(
  axis: Axis,
  set: ReadyScoreSet,
  signals: readonly SignalOutcome[],
): { readonly score: AxisScore; readonly held: readonly GroupOutcome[] } {
  const groupOf = new Map(set.signals.map((signal) => [signal.key, signal.group]));
  const fields = new Set<string>();
  const parts: Micro[] = [];
  const grouped = new Map<string, Micro>();
  for (const outcome of signals) {
    if (outcome.axis !== axis) continue;
    if (outcome.account !== null) unjudgedFields(outcome.account, fields);
    if (outcome.points === 0) continue;
    const group = groupOf.get(outcome.signal) ?? null;
    if (group === null) parts.push(toMicro(outcome.points));
    else grouped.set(group, (grouped.get(group) ?? 0) + toMicro(outcome.points));
  }
  const groups = holdGroups(set, grouped);
  for (const [, , held] of groups) if (held !== 0) parts.push(held);
  return {
    score: fields.size > 0 ? { judged: false, fields: [...fields] } : { judged: true, ...total(parts, set[axis]) },
    held: groups.flatMap(([{ key }, sum, held]) =>
      sum === held ? [] : [{ group: key, axis, sum: sum / MICRO, held: held / MICRO }],
    ),
  };
}

export type ScoredRecord = Pick<LeadRecord, 'activities' | 'arrived'>;

/**
 * Scores a record on both axes, whether the set admits it or not: signals → cap per signal → cap per group → sum → rounding → bounds.
 *
 * Signals that are off count nothing. Activities after `asOf` are not counted. A signal that can't be judged leaves its
 * axis without a score.
 */
export function scoreRecord(set: ReadyScoreSet, record: ScoredRecord, facts: Facts, asOf: Instant): SetScore {
  const signals = set.signals.filter((s) => s.on).map((s) => judgeSignal(s, set.kinds, record, facts, asOf));
  const fit = scoreAxis('fit', set, signals);
  const engagement = scoreAxis('engagement', set, signals);
  return {
    set: set.key,
    fit: fit.score,
    engagement: engagement.score,
    signals,
    held: [...fit.held, ...engagement.held],
  };
}
