import type { Bands } from '../grade/grid';
import { VERDICT_KEYS } from '../grade/verdict';
import { COUNTRY_BY_FOLDED_NAME } from '../record/country';
import { isTimeZone } from '../record/day';
import { fold } from '../record/fold';
import { currencyDecimals } from '../record/money';
import type { AxisBounds, ScoreSet } from '../score/score-set';
import type { Charter } from './charter';
import type { Spot } from '../document/problem';
import { distinctKeys } from '../document/read-json';

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

function checkTerritories(charter: Charter, spot: Spot): void {
  const { list } = charter.territories;
  const byKey = new Map(list.map((territory) => [territory.key, territory]));
  distinctKeys(list, spot);
  list.forEach((territory, i) => {
    const at = spot.at(i);
    if (territory.parent !== null && !byKey.has(territory.parent))
      at.at('parent').say(`no such territory: ${territory.parent}`);
    for (
      let up = territory.parent, steps = 0;
      up !== null && steps <= list.length;
      up = byKey.get(up)?.parent ?? null, steps += 1
    ) {
      if (up !== territory.key) continue;
      at.at('parent').say('lies inside itself');
      break;
    }
    territory.countries.forEach((country, j) => {
      const code = COUNTRY_BY_FOLDED_NAME.get(fold(country));
      if (code === undefined) at.at('countries').at(j).say(`is not a country: ${country}`);
    });
  });
}

/** Checks what a charter says of itself: keys, references between its parts, sizes that belong together. */
export function checkCharter(charter: Charter, spot: Spot): void {
  const stages = new Set(charter.stages.map((stage) => stage.key));
  const stageExists = (stage: (typeof charter)['entry'], at: Spot): void => {
    if (!stages.has(stage)) at.say(`no such stage: ${stage}`);
  };

  if (!isTimeZone(charter.timeZone)) spot.at('timeZone').say(`no such time zone: ${charter.timeZone}`);
  if (currencyDecimals(charter.baseCurrency) === undefined)
    spot.at('baseCurrency').say(`is no currency in use: ${charter.baseCurrency}`);
  distinctKeys(charter.stages, spot.at('stages'));
  stageExists(charter.entry, spot.at('entry'));
  for (const verdict of VERDICT_KEYS) {
    const named = charter.verdicts.filter((v) => v.key === verdict).length;
    if (named !== 1) spot.at('verdicts').say(`must name ${verdict} once`);
  }
  checkScoreSets(charter.scoreSets, spot.at('scoreSets'));

  distinctKeys(charter.gates, spot.at('gates'));
  charter.gates.forEach((gate, i) => {
    const at = spot.at('gates').at(i);
    stageExists(gate.from, at.at('from'));
    stageExists(gate.to, at.at('to'));
    if (charter.stages.find(({ key }) => key === gate.from)?.kind === 'out')
      at.at('from').say(`is a stage that closes: by rule nothing leads out of it: ${gate.from}`);
    if (gate.from === gate.to) at.at('to').say('leads back to the stage it comes from');
  });

  checkTerritories(charter, spot.at('territories').at('list'));

  distinctKeys(charter.streams, spot.at('streams'));
  const routes = new Set<string>();
  charter.streams.forEach((stream, i) => {
    const at = spot.at('streams').at(i);
    stream.entering.forEach((stage, j) => {
      stageExists(stage, at.at('entering').at(j));
    });
    stream.routes.forEach((route, j) => {
      if (routes.has(route.key)) at.at('routes').at(j).at('key').say(`stands twice: ${route.key}`);
      routes.add(route.key);
    });
  });
}
