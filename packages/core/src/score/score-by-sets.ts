import type { Answer } from '../condition/answer';
import { explain, unjudgedFields } from '../condition/explain';
import type { Facts } from '../condition/facts';
import { judge } from '../condition/judge';
import type { Instant } from '../record/keys';
import type { ScoredRecord } from '../signal/points-at';
import { type AxisScore, type ReadyScoreSet, scoreRecord, type SetScore } from './score-record';

/** What the set that grades a record gives it, and beside it what the other sets do that admit the record. */
export interface Score extends Omit<SetScore, 'set'> {
  /** Whether a set admits the record; "unjudged" when an entry condition before the first that does can't be judged. */
  readonly admitted: Answer;
  /** The key of the set that grades: the first that is on and admits the record; null unless admitted. */
  readonly set: string | null;
  readonly beside: readonly SetScore[];
}

/** Which set grades a record, and which others admit it. */
export interface Admission {
  readonly admitted: Answer;
  readonly grading: ReadyScoreSet | null;
  readonly beside: readonly ReadyScoreSet[];
  /** The fields for which it can't be said which set grades. */
  readonly fields: readonly string[];
}

/**
 * Asks the entry conditions of all sets that are on, in their order: the first "yes" grades, unless one before it can't be
 * judged. Every other "yes" scores beside it.
 */
export function admissionOf(sets: readonly ReadyScoreSet[], facts: Facts): Admission {
  let grading: ReadyScoreSet | null = null;
  const beside: ReadyScoreSet[] = [];
  const fields = new Set<string>();
  for (const set of sets) {
    if (!set.on) continue;
    const answer = judge(set.ready, facts);
    if (answer === 'unjudged' && grading === null) unjudgedFields(explain(set.ready, facts), fields);
    if (answer !== 'yes') continue;
    if (grading === null && fields.size === 0) grading = set;
    else beside.push(set);
  }
  const admitted = grading !== null ? 'yes' : fields.size > 0 ? 'unjudged' : 'no';
  return { admitted, grading, beside, fields: [...fields] };
}

/** Scores a record by the set that grades it, and by the others that admit it. */
export function scoreBySets(sets: readonly ReadyScoreSet[], record: ScoredRecord, facts: Facts, asOf: Instant): Score {
  const { admitted, grading, beside, fields } = admissionOf(sets, facts);
  const others = beside.map((set) => scoreRecord(set, record, facts, asOf));
  if (grading !== null) return { ...scoreRecord(grading, record, facts, asOf), admitted, beside: others };
  const none: AxisScore = { judged: false, fields };
  return { admitted, set: null, fit: none, engagement: none, signals: [], held: [], beside: others };
}

/**
 * The rank of a record among those that a set scores: fit + engagement, to the hundredth, as fine as scores get (a sum of
 * doubles may be off in the last bit).
 *
 * @returns null where an axis can't be judged
 */
export function rankOf({ fit, engagement }: Pick<SetScore, 'fit' | 'engagement'>): number | null {
  return fit.judged && engagement.judged ? Math.round((fit.score + engagement.score) * 100) / 100 : null;
}
