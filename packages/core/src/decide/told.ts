import type { Charter } from '../charter/charter';
import { type Grade, gradeOfKeys } from '../grade/grade';
import type { Tell, VerdictKey } from '../grade/verdict';
import type { Decision } from './decision';

/** Where a lead stood in the grid of its score set, by the keys of the bands. */
export interface GradedBefore {
  readonly set: string;
  readonly bands: Grade['bands'];
}

/** Occasions on which a charter comes into force: thousands may get another verdict, which is said once, on the enact page. */
const BY_CHARTER: readonly string[] = ['enacted', 'regated', 'rerouted', 'looked-at'];

/**
 * Who is told that something gave an open lead another verdict, or its first.
 *
 * @param before null: it had no grade
 */
export function toldOf(
  { verdicts, scoreSets }: Pick<Charter, 'verdicts' | 'scoreSets'>,
  before: GradedBefore | null,
  { grade, status, occasion }: Pick<Decision, 'grade' | 'status' | 'occasion'>,
): readonly Tell[] {
  if (grade === null || status !== 'open' || BY_CHARTER.includes(occasion)) return [];
  return verdictOf(scoreSets, before) === grade.verdict
    ? []
    : (verdicts.find(({ key }) => key === grade.verdict)?.tells ?? []);
}

/** The verdict of where it stood, as the charter gives it now: what enacting changed in a cell is no news. */
function verdictOf(sets: Charter['scoreSets'], before: GradedBefore | null): VerdictKey | null {
  const grid = sets.find(({ key }) => key === before?.set)?.grid;
  const cell = grid === undefined || before === null ? null : gradeOfKeys(grid, before.bands);
  return (cell && grid?.cells[cell.fit]?.[cell.engagement]) ?? null;
}
