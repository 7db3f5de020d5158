import type { ActivityKinds } from '../activity/activity-kind';
import { unjudgedFields } from '../condition/explain';
import type { Facts } from '../condition/facts';
import type { ReadyCondition } from '../condition/ready';
import type { Instant } from '../record/keys';
import { MICRO, toMicro } from '../signal/points';
import { type ScoredRecord, signalOutcome, type SignalOutcome } from '../signal/points-at';
import type { Axis, ReadySignal } from '../signal/signal';
import { PointsTally } from './points-tally';
import type { ScoreSet } from './score-set';
import { total, type Total } from './total';

export type ReadyScoreSet = Omit<ScoreSet, 'signals'> & {
  readonly signals: readonly ReadySignal[];
  /** Its entry condition, bound. */
  readonly ready: ReadyCondition;
  /** They say whose activities break silence. */
  readonly kinds: ActivityKinds;
};

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

function scoreAxis(
  axis: Axis,
  set: ReadyScoreSet,
  signals: readonly SignalOutcome[],
): { readonly score: AxisScore; readonly held: readonly GroupOutcome[] } {
  const groupOf = new Map(set.signals.map((signal) => [signal.key, signal.group]));
  const fields = new Set<string>();
  const tally = new PointsTally();
  for (const outcome of signals) {
    if (outcome.axis !== axis) continue;
    if (outcome.account !== null) unjudgedFields(outcome.account, fields);
    tally.add(groupOf.get(outcome.signal) ?? null, toMicro(outcome.points));
  }
  return {
    score:
      fields.size > 0
        ? { judged: false, fields: [...fields] }
        : { judged: true, ...total(tally.parts(set.groups), set[axis]) },
    held: tally
      .held(set.groups)
      .flatMap(({ group, sum, held }) =>
        sum === held ? [] : [{ group: group.key, axis, sum: sum / MICRO, held: held / MICRO }],
      ),
  };
}

/**
 * Scores a record on both axes, whether the set admits it or not: signals → cap per signal → cap per group → sum → rounding → bounds.
 *
 * Signals that are off count nothing. Activities after `asOf` are not counted. A signal that can't be judged leaves its
 * axis without a score.
 */
export function scoreRecord(set: ReadyScoreSet, record: ScoredRecord, facts: Facts, asOf: Instant): SetScore {
  const signals = set.signals.filter((s) => s.on).map((s) => signalOutcome(s, set.kinds, record, facts, asOf));
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
