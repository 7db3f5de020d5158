import { bindCondition } from '../../condition/bind-condition';
import type { Spot } from '../../document/problem';
import { distinctKeys, list } from '../../document/read-json';
import type { Bands } from '../../grade/grid';
import { fold } from '../../record/fold';
import type { ReadyScoreSet } from '../../score/score-record';
import { type AxisBounds, MOST_SETS, type ScoreSet } from '../../score/score-set';
import type { ReadySignal } from '../../signal/signal';
import type { CharterPart } from './part';
import { noteSetChanges } from './score-set-changes';
import { scoreSet } from './score-set-form';

export const SCORE_SETS: CharterPart<'scoreSets'> = {
  read: list(scoreSet, { least: 1, most: MOST_SETS }),
  words: {
    items: {
      scoreSets: 'score set',
      signals: 'signal',
      groups: 'group',
      having: 'property',
      names: 'band',
      cuts: 'cut',
      cells: 'row',
    },
    members: { grid: null },
  },
  check(sets, _, spot) {
    checkScoreSets(sets, spot);
  },
  bind(sets, { people: { kinds }, scopes }, spot) {
    const ready = sets.map((set, i): ReadyScoreSet => {
      const at = spot.at(i);
      const signals = set.signals.map((signal, j): ReadySignal => {
        if (signal.kind !== 'attribute') return signal;
        return { ...signal, ready: bindCondition(signal.when, scopes.signal, at.at('signals').at(j).at('when')) };
      });
      return { ...set, ready: bindCondition(set.when, scopes.signal, at.at('when')), signals, kinds };
    });
    return {
      scoreSets: ready.filter(({ of }) => of === 'lead'),
      companySets: ready.filter(({ of }) => of === 'company'),
    };
  },
  *conditions(sets) {
    for (const { of, when, signals } of sets) {
      yield { of, condition: when };
      for (const signal of signals) if (signal.kind === 'attribute') yield { of, condition: signal.when };
    }
  },
  names: (sets) => ({
    sets,
    signals: sets.flatMap(({ signals }) => signals),
    groups: sets.flatMap(({ groups }) => groups),
  }),
  changes: noteSetChanges,
};

function checkBands(bands: Bands, [least, most]: readonly [number, number], bounds: AxisBounds, spot: Spot): void {
  if (bands.names.length < least || bands.names.length > most) spot.at('names').say(`needs ${least} to ${most} bands`);
  if (bands.cuts.length !== bands.names.length - 1)
    spot.at('cuts').say(`needs one cut fewer than bands: ${bands.names.length - 1}`);
  bands.cuts.forEach((cut, i) => {
    if (cut < bounds.least || cut > bounds.most)
      spot.at('cuts').at(i).say(`lies outside the bounds of its axis, ${bounds.least} to ${bounds.most}`);
  });
  if (new Set(bands.names.map(fold)).size < bands.names.length) spot.at('names').say('has a name twice');
}

function checkGrid({ grid, fit, engagement }: ScoreSet, spot: Spot): void {
  checkBands(grid.fit, [2, 6], fit, spot.at('fit'));
  checkBands(grid.engagement, [2, 4], engagement, spot.at('engagement'));
  const cells = spot.at('cells');
  if (grid.cells.length !== grid.fit.names.length)
    cells.say(`needs one row for each fit band: ${grid.fit.names.length}`);
  grid.cells.forEach((row, i) => {
    if (row.length !== grid.engagement.names.length)
      cells.at(i).say(`needs one cell for each engagement band: ${grid.engagement.names.length}`);
  });
}

function checkSignals(scoreSet: ScoreSet, spot: Spot): void {
  const groups = new Map(scoreSet.groups.map((group) => [group.key, group]));
  scoreSet.signals.forEach((signal, i) => {
    if (signal.group === null) return;
    const at = spot.at('signals').at(i).at('group');
    const group = groups.get(signal.group);
    if (group === undefined) at.say(`no such group: ${signal.group}`);
    else if (group.axis !== signal.axis) at.say(`is a group of ${group.axis}, the signal is of ${signal.axis}`);
  });
}

/** Signals and groups are told apart by their keys alone, in whichever set they stand. */
function checkScoreSets(sets: readonly ScoreSet[], spot: Spot): void {
  distinctKeys(sets, spot);
  const seen = { signals: new Set<string>(), groups: new Set<string>() };
  sets.forEach((set, i) => {
    const at = spot.at(i);
    for (const part of ['signals', 'groups'] as const)
      set[part].forEach(({ key }, j) => {
        if (seen[part].has(key)) at.at(part).at(j).at('key').say(`stands twice: ${key}`);
        seen[part].add(key);
      });
    checkSignals(set, at);
    checkGrid(set, at.at('grid'));
  });
}
