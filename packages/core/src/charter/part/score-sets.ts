import { bindCondition } from '../../condition/bind-condition';
import type { Spot } from '../../document/problem';
import { distinctKeys, list } from '../../document/read-json';
import { type Band, BAND_COUNTS, type Bands } from '../../grade/band';
import { fold } from '../../record/fold';
import type { ReadyScoreSet } from '../../score/score-record';
import { type AxisBounds, MOST_SETS, type ScoreSet } from '../../score/score-set';
import type { Axis, ReadySignal } from '../../signal/signal';
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
      bands: 'band',
      cuts: 'cut',
      cells: 'row',
    },
    members: { grid: null },
  },
  check(sets, _, spot) {
    checkScoreSets(sets, spot);
  },
  bind(sets, { people: { kinds }, scope }, spot) {
    const scoreSets = sets.map((set, i): ReadyScoreSet => {
      const at = spot.at(i);
      const own = scope('signal', set.of);
      const signals = set.signals.map((signal, j): ReadySignal => {
        if (signal.kind !== 'attribute') return signal;
        return { ...signal, ready: bindCondition(signal.when, own, at.at('signals').at(j).at('when')) };
      });
      return { ...set, ready: bindCondition(set.when, own, at.at('when')), signals, kinds };
    });
    return { scoreSets };
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
    fitBands: bandsOf(sets, 'fit'),
    engagementBands: bandsOf(sets, 'engagement'),
  }),
  changes: noteSetChanges,
};

/** The bands of the sets for leads: where several have one of a key, the first names it. */
function bandsOf(sets: readonly ScoreSet[], axis: Axis): Band[] {
  const all = sets.flatMap(({ of, grid }) => (of === 'lead' ? grid[axis].bands : []));
  return [...new Map([...all].reverse().map((band) => [band.key, band])).values()].reverse();
}

function checkBands(
  { bands, cuts }: Bands,
  [least, most]: readonly [number, number],
  bounds: AxisBounds,
  spot: Spot,
): void {
  if (bands.length < least || bands.length > most) spot.at('bands').say(`needs ${least} to ${most} bands`);
  if (cuts.length !== bands.length - 1) spot.at('cuts').say(`needs one cut fewer than bands: ${bands.length - 1}`);
  cuts.forEach((cut, i) => {
    if (cut < bounds.least || cut > bounds.most)
      spot.at('cuts').at(i).say(`lies outside the bounds of its axis, ${bounds.least} to ${bounds.most}`);
  });
  distinctKeys(bands, spot.at('bands'));
  if (new Set(bands.map(({ name }) => fold(name))).size < bands.length) spot.at('bands').say('has a name twice');
}

function checkGrid({ grid, fit, engagement }: ScoreSet, spot: Spot): void {
  checkBands(grid.fit, BAND_COUNTS.fit, fit, spot.at('fit'));
  checkBands(grid.engagement, BAND_COUNTS.engagement, engagement, spot.at('engagement'));
  const cells = spot.at('cells');
  if (grid.cells.length !== grid.fit.bands.length)
    cells.say(`needs one row for each fit band: ${grid.fit.bands.length}`);
  grid.cells.forEach((row, i) => {
    if (row.length !== grid.engagement.bands.length)
      cells.at(i).say(`needs one cell for each engagement band: ${grid.engagement.bands.length}`);
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
