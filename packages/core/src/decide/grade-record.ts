import type { ReadyCharter } from '../charter/ready-charter';
import { type Grade, gradeOf } from '../grade/grade';
import type { Instant } from '../record/keys';
import type { AnyRecord } from '../record/record';
import { rankOf, type Score, scoreBySets } from '../score/score-by-sets';
import { type FactsAround, GatheredFacts } from './facts';

/** Score, rank and grade of a record by the score sets of a charter. */
export interface Graded {
  readonly score: Score;
  /** Fit + engagement; null where an axis can't be judged. */
  readonly rank: number | null;
  /** Null where an axis can't be judged, or no set admits the record. */
  readonly grade: Grade | null;
}

/**
 * Scores and grades a record of any kind: the part of the way that asks nothing of where a record stands.
 *
 * @param asOf activities after it are not counted
 * @returns beside it what is known of the record now, for the conditions that are asked next
 */
export function gradeRecord(
  charter: ReadyCharter,
  record: AnyRecord,
  around: FactsAround,
  asOf: Instant,
): Graded & { readonly facts: GatheredFacts } {
  const { scoreSets } = charter.rules[record.kind];
  const own = GatheredFacts.of(record, around, charter, asOf);
  const score = scoreBySets(scoreSets, record, own, asOf);
  const grid = scoreSets.find(({ key }) => key === score.set)?.grid;
  const { fit, engagement } = score;
  const grade = fit.judged && engagement.judged && grid ? gradeOf(grid, fit.score, engagement.score) : null;
  return { score, rank: rankOf(score), grade, facts: own.withScore(score, grade) };
}
