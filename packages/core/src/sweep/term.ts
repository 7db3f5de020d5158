import type { ReadyCondition, ReadyTest } from '../condition/ready';
import { hasPart, within } from '../condition/judge';
import type { Grid } from '../grade/grid';
import { COMPUTED, NUMBER_DECIMALS } from '../record/field';
import { fold } from '../record/fold';
import type { StageKey } from '../record/keys';
import { noBits } from './bits';
import type { CodeColumn } from './column';
import type { Mask } from './mask';
import type { Resident } from './resident';
import { cellOf, HUNDREDTHS } from './scores';

/** Scores as conditions compare them. */
export const SCORE_SCALE = 10 ** NUMBER_DECIMALS / HUNDREDTHS;

/** A condition laid out for the sweep: what is known of all records already, and what follows from scores and stages. */
export type Term =
  | { readonly kind: 'mask'; readonly mask: Mask }
  /** The record lies in one of these cells; without a grade it can't be judged. */
  | { readonly kind: 'cells'; readonly of: readonly number[] }
  | {
      readonly kind: 'score';
      readonly axis: 'fit' | 'engagement' | 'rank';
      readonly passes: (score: number) => boolean;
    }
  /** The record is in one of these stages, by their places in the charter. */
  | { readonly kind: 'stages'; readonly of: readonly number[] }
  | { readonly kind: 'all' | 'any'; readonly of: readonly Term[] }
  | { readonly kind: 'not'; readonly of: Term };

/** What terms are made from. */
export interface TermSetting {
  readonly resident: Resident;
  readonly grid: Grid;
  readonly stages: readonly StageKey[];
  readonly territory: CodeColumn;
}

function passesText(test: ReadyTest, text: string): boolean {
  const folded = fold(text);
  if (test.kind === 'text-in') return test.folded.has(folded);
  return test.kind === 'text-part' && hasPart(test, folded);
}

/** The cells whose text, by their bands, passes. */
function cellsWhere(grid: Grid, passes: (fit: number, engagement: number) => boolean): number[] {
  return grid.fit.names.flatMap((_, f) =>
    grid.engagement.names.flatMap((__, e) => (passes(f, e) ? [cellOf(grid, f, e)] : [])),
  );
}

function computedTerm(test: ReadyTest, { resident, grid, stages, territory }: TermSetting): Term | null {
  const never: Term = { kind: 'mask', mask: { yes: noBits(resident.population.size), unjudged: null } };
  switch (test.field) {
    case 'fit':
    case 'engagement':
    case 'rank': {
      if (test.kind !== 'number-in') return never;
      const { from, to } = test;
      return { kind: 'score', axis: test.field, passes: (score) => within(score * SCORE_SCALE, from, to) };
    }
    case 'fit_band':
      return test.kind === 'blank'
        ? never
        : { kind: 'cells', of: cellsWhere(grid, (f) => passesText(test, grid.fit.names[f] ?? '')) };
    case 'engagement_band':
      return test.kind === 'blank'
        ? never
        : { kind: 'cells', of: cellsWhere(grid, (_, e) => passesText(test, grid.engagement.names[e] ?? '')) };
    case 'verdict':
      return test.kind === 'blank'
        ? never
        : { kind: 'cells', of: cellsWhere(grid, (f, e) => passesText(test, grid.cells[f]?.[e] ?? '')) };
    case 'stage':
      return { kind: 'stages', of: stages.flatMap((stage, s) => (passesText(test, stage) ? [s] : [])) };
    case 'territory':
      return {
        kind: 'mask',
        mask:
          test.kind === 'blank'
            ? { yes: territory.blanks(), unjudged: null }
            : { yes: territory.where((key) => passesText(test, key)), unjudged: territory.unreadable },
      };
    default:
      return null;
  }
}

const BY_SWEEP: ReadonlySet<string> = new Set(COMPUTED);

function readsComputed(condition: ReadyCondition): boolean {
  switch (condition.kind) {
    case 'all':
    case 'any':
      return condition.of.some(readsComputed);
    case 'not':
      return readsComputed(condition.of);
    default:
      return BY_SWEEP.has(condition.field);
  }
}

/** Lays a condition out: whatever reads fields alone is answered for all records at once. */
export function termOf(condition: ReadyCondition, setting: TermSetting): Term {
  if (!readsComputed(condition)) return { kind: 'mask', mask: setting.resident.answerTo(condition) };
  switch (condition.kind) {
    case 'all':
    case 'any':
      return { kind: condition.kind, of: condition.of.map((part) => termOf(part, setting)) };
    case 'not':
      return { kind: 'not', of: termOf(condition.of, setting) };
    default: {
      const term = computedTerm(condition, setting);
      if (term === null) throw new Error(`Nothing computes ${condition.field}`);
      return term;
    }
  }
}

/** Whether a term follows from scores themselves, and not only from cells. */
export function readsScores(term: Term): boolean {
  switch (term.kind) {
    case 'score':
      return true;
    case 'all':
    case 'any':
      return term.of.some(readsScores);
    case 'not':
      return readsScores(term.of);
    case 'mask':
    case 'cells':
    case 'stages':
      return false;
  }
}

/** The same term for records in one stage. */
export function termInStage(term: Term, stage: number, { resident }: Pick<TermSetting, 'resident'>): Term {
  switch (term.kind) {
    case 'stages':
      return {
        kind: 'mask',
        mask: { yes: term.of.includes(stage) ? resident.everyone : noBits(resident.population.size), unjudged: null },
      };
    case 'all':
    case 'any':
      return { kind: term.kind, of: term.of.map((part) => termInStage(part, stage, { resident })) };
    case 'not':
      return { kind: 'not', of: termInStage(term.of, stage, { resident }) };
    case 'mask':
    case 'cells':
    case 'score':
      return term;
  }
}
