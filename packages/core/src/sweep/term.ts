import { type ReadyCondition, readyTestsIn, type ReadyTest } from '../condition/ready';
import { passesText } from '../condition/judge';
import { NUMBER_DECIMALS } from '../record/field';
import { fold } from '../record/fold';
import type { StageKey } from '../record/keys';
import { type Bits, noBits } from './bits';
import type { CodeColumn } from './column';
import type { Mask } from './mask';
import type { Resident } from './resident';
import type { CellWords } from './plan';
import { HUNDREDTHS } from './score-tables';
import type { Scores, ScoreWatch, ScoreWatcher } from './scores';
import { isSwept, type SweptSubject } from './subject-columns';

/** Scores as conditions compare them. */
export const SCORE_SCALE = 10 ** NUMBER_DECIMALS / HUNDREDTHS;

/** A condition laid out for the sweep: what is known of all records already, and what follows from scores and stages. */
export type Term =
  | { readonly kind: 'mask'; readonly mask: Mask }
  /** The record lies in one of these cells; without a grade it can't be judged. */
  | { readonly kind: 'cells'; readonly of: readonly number[] }
  /** A score lies in a range that is watched; without a score it can't be judged. */
  | { readonly kind: 'score'; readonly axis: ScoreWatch['axis']; readonly bits: Bits }
  /** The record is in one of these stages, by their places in the charter. */
  | { readonly kind: 'stages'; readonly of: readonly number[] }
  | { readonly kind: 'all' | 'any'; readonly of: readonly Term[] }
  | { readonly kind: 'not'; readonly of: Term };

/** What terms are made from. */
export interface TermSetting {
  readonly resident: Resident;
  readonly cells: readonly CellWords[];
  /** Records that no set admits: they have no score, which is blank. */
  readonly none: Bits;
  readonly stages: readonly StageKey[];
  readonly territory: CodeColumn;
  readonly scores: Scores;
  readonly watcher: ScoreWatcher;
}

/** The cells whose text passes. */
function cellsWhere(cells: readonly CellWords[], test: ReadyTest, word: keyof CellWords): Term {
  return { kind: 'cells', of: cells.flatMap((cell, c) => (passesText(test, fold(cell[word])) ? [c + 1] : [])) };
}

/** The smallest score, in hundredths, at or above a bound; above it, where the bound itself does not count. */
function firstScore(at: number, included: boolean): number {
  return included ? Math.ceil(at / SCORE_SCALE) : Math.floor(at / SCORE_SCALE) + 1;
}

/** What a test of something that only the sweep can tell says. */
function sweptTerm(
  subject: SweptSubject,
  test: ReadyTest,
  { cells, none, stages, territory, scores, watcher }: TermSetting,
): Term {
  const unscored: Term = { kind: 'mask', mask: { yes: none, unjudged: null } };
  switch (subject.kind) {
    case 'score': {
      if (test.kind !== 'number-in') return unscored;
      const { from, to } = test;
      const least = from === null ? -Infinity : firstScore(from.at, from.included);
      const most = to === null ? Infinity : firstScore(to.at, !to.included) - 1;
      return { kind: 'score', axis: subject.axis, bits: scores.watch(subject.axis, least, most, watcher) };
    }
    case 'band':
      return test.kind === 'blank' ? unscored : cellsWhere(cells, test, subject.axis);
    case 'verdict':
      return test.kind === 'blank' ? unscored : cellsWhere(cells, test, 'verdict');
    case 'stage':
      return { kind: 'stages', of: stages.flatMap((stage, s) => (passesText(test, fold(stage)) ? [s] : [])) };
    case 'territory':
      return {
        kind: 'mask',
        mask:
          test.kind === 'blank'
            ? { yes: territory.blanks(), unjudged: null }
            : { yes: territory.where((key) => passesText(test, fold(key))), unjudged: territory.unreadable },
      };
  }
}

function readsSwept(condition: ReadyCondition): boolean {
  for (const test of readyTestsIn(condition)) if (isSwept(test.subject)) return true;
  return false;
}

/** Parts that are known for all records become one. */
function folded(kind: 'all' | 'any', parts: readonly Term[], { resident }: Pick<TermSetting, 'resident'>): Term {
  const masks = parts.flatMap((part) => (part.kind === 'mask' ? [part.mask] : []));
  const others = parts.filter((part) => part.kind !== 'mask');
  if (masks.length === 0) return others.length === 1 && others[0] ? others[0] : { kind, of: others };
  const known: Term = { kind: 'mask', mask: masks.length === 1 && masks[0] ? masks[0] : resident.combine(kind, masks) };
  return others.length === 0 ? known : { kind, of: [known, ...others] };
}

function opposite(term: Term, { resident }: Pick<TermSetting, 'resident'>): Term {
  return term.kind === 'mask' ? { kind: 'mask', mask: resident.opposite(term.mask) } : { kind: 'not', of: term };
}

/** Lays a condition out: whatever can be known of all records beforehand is one mask. */
export function termOf(condition: ReadyCondition, setting: TermSetting): Term {
  if (!readsSwept(condition)) return { kind: 'mask', mask: setting.resident.answerTo(condition) };
  switch (condition.kind) {
    case 'all':
    case 'any':
      return folded(
        condition.kind,
        condition.of.map((part) => termOf(part, setting)),
        setting,
      );
    case 'not':
      return opposite(termOf(condition.of, setting), setting);
    default: {
      const { subject } = condition;
      return isSwept(subject)
        ? sweptTerm(subject, condition, setting)
        : { kind: 'mask', mask: setting.resident.answerTo(condition) };
    }
  }
}

/** The same term for records in one stage. */
export function termInStage(term: Term, stage: number, setting: Pick<TermSetting, 'resident'>): Term {
  switch (term.kind) {
    case 'stages': {
      const { resident } = setting;
      const yes = term.of.includes(stage) ? resident.everyone : noBits(resident.population.size);
      return { kind: 'mask', mask: { yes, unjudged: null } };
    }
    case 'all':
    case 'any':
      return folded(
        term.kind,
        term.of.map((part) => termInStage(part, stage, setting)),
        setting,
      );
    case 'not':
      return opposite(termInStage(term.of, stage, setting), setting);
    case 'mask':
    case 'cells':
    case 'score':
      return term;
  }
}
