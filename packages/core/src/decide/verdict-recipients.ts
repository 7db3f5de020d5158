import type { Charter } from '../charter/charter';
import { type Grade, gradeOfKeys } from '../grade/grade';
import type { Recipient, VerdictKey } from '../grade/verdict';
import type { Decision } from './decision';

/** The former grade of a lead: its score set, and the keys of its bands. */
export interface GradedBefore {
  readonly set: string;
  readonly bands: Grade['bands'];
}

/** Occasions of a charter coming into force: thousands of leads may get another verdict, which the enact page has shown. */
const BY_CHARTER: readonly string[] = ['enacted', 'regated', 'rerouted', 'looked-at'];

/**
 * The recipients of the notice that an open lead has another verdict, or its first.
 *
 * @param before null: it had no grade
 */
export function recipientsOfVerdict(
  { verdicts, scoreSets }: Pick<Charter, 'verdicts' | 'scoreSets'>,
  before: GradedBefore | null,
  { grade, status, occasion }: Pick<Decision, 'grade' | 'status' | 'occasion'>,
): readonly Recipient[] {
  if (grade === null || status !== 'open' || BY_CHARTER.includes(occasion)) return [];
  return verdictOf(scoreSets, before) === grade.verdict
    ? []
    : (verdicts.find(({ key }) => key === grade.verdict)?.notify ?? []);
}

/** The verdict of its former bands by the present charter: a verdict that enacting changed is no news. */
function verdictOf(sets: Charter['scoreSets'], before: GradedBefore | null): VerdictKey | null {
  const grid = sets.find(({ key }) => key === before?.set)?.grid;
  const cell = grid === undefined || before === null ? null : gradeOfKeys(grid, before.bands);
  return (cell && grid?.cells[cell.fit]?.[cell.engagement]) ?? null;
}
