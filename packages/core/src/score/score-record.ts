import type { Answer } from '../condition/answer';
import { type Account, explain, unjudgedFields } from '../condition/explain';
import type { Facts } from '../condition/judge';
import type { ReadyCondition } from '../condition/ready';
import type { Instant } from '../record/keys';
import type { Activity } from '../record/record';
import { type Micro, MICRO, toMicro, total, type Total } from './points';
import type { ActivitySignal, AttributeSignal, Axis, ScoreSet } from './score-set';

export type ReadySignal = (AttributeSignal & { readonly ready: ReadyCondition }) | ActivitySignal;
export type ReadyScoreSet = Omit<ScoreSet, 'signals'> & { readonly signals: readonly ReadySignal[] };

/** What one signal gave a record. */
export interface SignalOutcome {
  readonly signal: string;
  readonly axis: Axis;
  readonly answer: Answer;
  /** In points; 0 when the answer is not "yes". */
  readonly points: number;
  /** For attributes: why. */
  readonly account: Account | null;
  /** For activities: how many there were, how many counted, and when the newest was. */
  readonly seen: { readonly count: number; readonly counted: number; readonly newest: Instant | null } | null;
}

/** An axis without a score names the fields that can't be judged. */
export type AxisScore =
  ({ readonly judged: true } & Total) | { readonly judged: false; readonly fields: readonly string[] };

export interface Score {
  readonly fit: AxisScore;
  readonly engagement: AxisScore;
  readonly signals: readonly SignalOutcome[];
}

function countActivities(signal: ActivitySignal, activities: readonly Activity[], asOf: Instant): SignalOutcome {
  let count = 0;
  let newest: Instant | null = null;
  for (const activity of activities) {
    if (activity.kind !== signal.activity || activity.at > asOf) continue;
    count += 1;
    if (newest === null || activity.at > newest) newest = activity.at;
  }
  const counted = signal.most === null ? count : Math.min(count, signal.most);
  return {
    signal: signal.key,
    axis: signal.axis,
    answer: counted > 0 ? 'yes' : 'no',
    points: (counted * toMicro(signal.points)) / MICRO,
    account: null,
    seen: { count, counted, newest },
  };
}

function judgeSignal(signal: ReadySignal, facts: Facts, activities: readonly Activity[], asOf: Instant): SignalOutcome {
  if (signal.kind === 'activity') return countActivities(signal, activities, asOf);
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

function scoreAxis(axis: Axis, set: ReadyScoreSet, signals: readonly SignalOutcome[]): AxisScore {
  const fields = new Set<string>();
  const micros: Micro[] = [];
  for (const outcome of signals) {
    if (outcome.axis !== axis) continue;
    if (outcome.account !== null) unjudgedFields(outcome.account, fields);
    if (outcome.points !== 0) micros.push(toMicro(outcome.points));
  }
  return fields.size > 0 ? { judged: false, fields: [...fields] } : { judged: true, ...total(micros, set[axis]) };
}

/**
 * Scores a record on both axes.
 *
 * Signals that are off count nothing. Activities after `asOf` are not counted. A signal that can't be judged leaves its
 * axis without a score.
 */
export function scoreRecord(set: ReadyScoreSet, facts: Facts, activities: readonly Activity[], asOf: Instant): Score {
  const signals = set.signals.filter((s) => s.on).map((s) => judgeSignal(s, facts, activities, asOf));
  return { fit: scoreAxis('fit', set, signals), engagement: scoreAxis('engagement', set, signals), signals };
}
