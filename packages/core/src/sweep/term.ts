import { type ReadyCondition, readyTestsIn, type ReadyTest } from '../condition/ready';
import { passesText } from '../condition/judge';
import { NUMBER_DECIMALS } from '../record/field';
import { hoursBefore } from '../record/hours';
import { fold } from '../record/fold';
import type { StageKey } from '../record/keys';
import { type Bits, noBits } from '../column/bits';
import type { CodeColumn, NumberColumn } from '../column/column';
import type { Mask } from '../column/mask';
import type { GateChanges } from './gate-changes';
import type { Resident } from './resident';
import type { CellWords } from './plan';
import type { SweptSet } from './score-sweep';
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
  /** The same of one set, for records that it admits; it is blank for the others. */
  | { readonly kind: 'set-score'; readonly set: string; readonly axis: ScoreWatch['axis']; readonly bits: Bits }
  /** The record is in one of these stages, by their places in the charter. */
  | { readonly kind: 'stages'; readonly of: readonly number[] }
  /** Of the days or hours in the stage: what is said where the record stood there before, and where gates have just brought it. */
  | { readonly kind: 'stage-time'; readonly stood: Bits; readonly moved: boolean }
  /** The record has a value from a gate that it passed. */
  | { readonly kind: 'changed'; readonly records: Bits }
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
  /** The owner of each record before; null: no record has one. */
  readonly owners: CodeColumn | null;
  /** When each entered its stage. */
  readonly entered: NumberColumn;
  /** Moves take no time: who has moved is still asked about since its arrival. */
  readonly timeless: boolean;
  readonly scores: Scores;
  /** The sets that are on. */
  readonly sets: readonly SweptSet[];
  readonly watcher: ScoreWatcher;
  /** The values that gates have changed; null where no record has passed a gate yet. */
  readonly changes: GateChanges | null;
}

/** The cells whose text passes. */
function cellsWhere(cells: readonly CellWords[], test: ReadyTest, word: keyof CellWords): Term {
  return { kind: 'cells', of: cells.flatMap((cell, c) => (passesText(test, fold(cell[word])) ? [c + 1] : [])) };
}

/** The smallest score, in hundredths, at or above a bound; above it, where the bound itself does not count. */
function firstScore(at: number, included: boolean): number {
  return included ? Math.ceil(at / SCORE_SCALE) : Math.floor(at / SCORE_SCALE) + 1;
}

function scoreSpan({ from, to }: ReadyTest & { kind: 'number-in' }): { readonly least: number; readonly most: number } {
  return {
    least: from === null ? -Infinity : firstScore(from.at, from.included),
    most: to === null ? Infinity : firstScore(to.at, !to.included) - 1,
  };
}

/** The term of a test on a subject that only the sweep computes. */
function sweptTerm(subject: SweptSubject, test: ReadyTest, setting: TermSetting): Term {
  const { cells, none, stages, territory, owners, scores, watcher, resident } = setting;
  const unscored: Term = { kind: 'mask', mask: { yes: none, unjudged: null } };
  switch (subject.kind) {
    case 'score': {
      if (test.kind !== 'number-in') return unscored;
      const { least, most } = scoreSpan(test);
      return { kind: 'score', axis: subject.axis, bits: scores.watch(subject.axis, least, most, watcher) };
    }
    case 'set-score': {
      const set = setting.sets.find(({ set: { key } }) => key === subject.set);
      const blank =
        set === undefined ? resident.everyone : resident.opposite({ yes: set.admitted, unjudged: null }).yes;
      if (test.kind !== 'number-in') return { kind: 'mask', mask: { yes: blank, unjudged: null } };
      if (set === undefined) return { kind: 'mask', mask: { yes: noBits(resident.population.size), unjudged: null } };
      const { least, most } = scoreSpan(test);
      const bits = set.scores.watch(subject.axis, least, most, watcher);
      return { kind: 'set-score', set: subject.set, axis: subject.axis, bits };
    }
    case 'band':
      return test.kind === 'blank' ? unscored : cellsWhere(cells, test, subject.axis);
    case 'verdict':
      return test.kind === 'blank' ? unscored : cellsWhere(cells, test, 'verdict');
    case 'stage':
      return { kind: 'stages', of: stages.flatMap((stage, s) => (passesText(test, fold(stage)) ? [s] : [])) };
    case 'days-in-stage':
      return stageTime(test, (days) => resident.daysBefore(days), setting);
    case 'hours-in-stage':
      return stageTime(test, (hours) => hoursBefore(resident.asOf, hours), setting);
    case 'owner': {
      const nobody = noBits(resident.population.size);
      const yes =
        test.kind === 'blank'
          ? (owners?.blanks() ?? resident.everyone)
          : (owners?.where((key) => passesText(test, fold(key))) ?? nobody);
      return { kind: 'mask', mask: { yes, unjudged: null } };
    }
    case 'team': {
      // Asked once of each owner.
      const yes =
        owners?.where((owner) => {
          const teams = resident.teamsOf(owner);
          return test.kind === 'blank' ? teams === '' : passesText(test, teams);
        }) ?? noBits(resident.population.size);
      if (test.kind !== 'blank') return { kind: 'mask', mask: { yes, unjudged: null } };
      const nobody = owners?.blanks() ?? resident.everyone;
      return { kind: 'mask', mask: { yes: yes.map((word, w) => word | (nobody[w] as number)), unjudged: null } };
    }
    case 'territory':
      return {
        kind: 'mask',
        mask:
          test.kind === 'blank'
            ? { yes: territory.blanks(), unjudged: null }
            : { yes: territory.where((key) => passesText(test, key)), unjudged: territory.unreadable },
      };
  }
}

/**
 * Turns bounds in whole days or hours into bounds on the instant of entry, once for all records.
 *
 * @param before the latest instant from which so many have passed
 */
function stageTime(
  test: ReadyTest,
  before: (count: number) => number,
  { resident, entered, timeless }: TermSetting,
): Term {
  const { population } = resident;
  if (test.kind !== 'number-in') return { kind: 'mask', mask: { yes: noBits(population.size), unjudged: null } };
  const first = test.from === null ? 0 : test.from.included ? test.from.at : test.from.at + 1;
  const beyond = test.to === null ? Infinity : test.to.included ? test.to.at + 1 : test.to.at;
  // Entered at the first bound or before it, and after the second.
  const latest = before(first);
  const earliest = Number.isFinite(beyond) ? before(beyond) : -Infinity;
  const stood = earliest === Infinity ? noBits(population.size) : entered.between(earliest + 1, latest + 1);
  if (timeless) return { kind: 'mask', mask: { yes: stood, unjudged: null } };
  return { kind: 'stage-time', stood, moved: first <= 0 && beyond > 0 };
}

function readsSwept(condition: ReadyCondition, { changes }: TermSetting): boolean {
  for (const test of readyTestsIn(condition)) if (isSwept(test.subject) || changes?.reads(test)) return true;
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
  if (!readsSwept(condition, setting)) return { kind: 'mask', mask: setting.resident.answerTo(condition) };
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
      if (isSwept(subject)) return sweptTerm(subject, condition, setting);
      return setting.changes?.reads(condition)
        ? setting.changes.term(condition)
        : { kind: 'mask', mask: setting.resident.answerTo(condition) };
    }
  }
}

/** The same term for records in one stage, which stood there before or have just moved there. */
export function termInStage(term: Term, stage: number, moved: boolean, setting: Pick<TermSetting, 'resident'>): Term {
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
        term.of.map((part) => termInStage(part, stage, moved, setting)),
        setting,
      );
    case 'not':
      return opposite(termInStage(term.of, stage, moved, setting), setting);
    case 'stage-time': {
      const { resident } = setting;
      const all = term.moved ? resident.everyone : noBits(resident.population.size);
      return { kind: 'mask', mask: { yes: moved ? all : term.stood, unjudged: null } };
    }
    case 'mask':
    case 'changed':
    case 'cells':
    case 'score':
    case 'set-score':
      return term;
  }
}
