import { readCondition } from '../condition/read-condition';
import type { Gate, Stage } from '../gate/gate';
import type { Bands, Grid } from '../grade/grid';
import { type Verdict, VERDICT_KEYS } from '../grade/verdict';
import type { Destination, Route, Stream } from '../route/route';
import { type Fade, LONGEST_FADE } from '../score/fade';
import { readHaving } from '../score/read-having';
import {
  type ActivitySignal,
  type AttributeSignal,
  AXES,
  type AxisBounds,
  MOST_SETS,
  SCORED_KINDS,
  type ScoreSet,
  type Signal,
  type SignalGroup,
  type SilenceSignal,
} from '../score/score-set';
import type { Territory } from '../territory/territory';
import { type Charter, CHARTER_FORMAT, CHARTER_VERSION } from './charter';
import { checkCharter } from './check-charter';
import { fromEarlierVersion } from './earlier-versions';
import { type Problem, Spot } from '../document/problem';
import { key, list, number, oneOf, orElse, orNull, type Read, readObject, text, yesNo } from '../document/read-json';

const name = text({ most: 120 });
const on = orElse(yesNo, true);
const points: Read<number> = number({ least: -100_000, most: 100_000, decimals: 2 });
const days = number({ least: 1, most: LONGEST_FADE });
/** A cap by points. Nothing above zero would be held to less than the smallest step. */
const cap = number({ least: 0.01, most: 1_000_000, decimals: 2 });
const kindOf = oneOf(['attribute', 'activity', 'silence'] as const);
const destinationKind = oneOf(['rep', 'team', 'queue'] as const);

function kindIn(json: unknown): unknown {
  return typeof json === 'object' && json !== null && 'kind' in json ? json.kind : undefined;
}

const fade: Read<Fade> = (json, spot) =>
  readObject<{ kind: Fade['kind']; days: number }>(json, spot, { kind: oneOf(['half-life', 'end']), days });

const group: Read<SignalGroup> = (json, spot) =>
  readObject<SignalGroup>(json, spot, { key: key(), name, axis: oneOf(AXES), cap });

const signal: Read<Signal> = (json, spot) => {
  const common = { key: key<string>(), name, axis: oneOf(AXES), on, points, group: orNull(key<string>()) };
  const most = orNull(number({ least: 1, most: 10_000 }));
  switch (kindOf(kindIn(json), spot.at('kind'))) {
    case 'attribute':
      return readObject<AttributeSignal>(json, spot, { kind: oneOf(['attribute']), ...common, when: readCondition }, [
        'on',
        'group',
      ]);
    case 'activity':
      return readObject<ActivitySignal>(
        json,
        spot,
        {
          kind: oneOf(['activity']),
          ...common,
          activity: key<string>(),
          having: orElse(readHaving, []),
          times: orElse(oneOf(['each', 'first'] as const), 'each'),
          window: orNull(days),
          most,
          fade: orNull(fade),
          cap: orNull(cap),
        },
        ['on', 'group', 'having', 'times', 'window', 'most', 'fade', 'cap'],
      );
    case 'silence':
      return readObject<SilenceSignal>(json, spot, { kind: oneOf(['silence']), ...common, every: days, most }, [
        'on',
        'group',
        'most',
      ]);
  }
};

const bounds: Read<AxisBounds> = (json, spot) => {
  const edge = number({ least: -1_000_000, most: 1_000_000, decimals: 2 });
  const read = readObject<AxisBounds>(
    json,
    spot,
    { least: edge, most: edge, decimals: orElse(number({ least: 0, most: 2 }), 0) },
    ['decimals'],
  );
  if (read.least >= read.most) spot.say('its least must be below its most');
  return read;
};

const bands: Read<Bands> = (json, spot) => {
  const cut = number({ least: -1_000_000, most: 1_000_000, decimals: 2 });
  const read = readObject<Bands>(json, spot, { names: list(text({ most: 40 })), cuts: list(cut) });
  read.cuts.forEach((at, i) => {
    const below = read.cuts[i - 1];
    if (below !== undefined && at <= below) spot.at('cuts').at(i).say(`must be above the cut before it, ${below}`);
  });
  return read;
};

const grid: Read<Grid> = (json, spot) =>
  readObject<Grid>(json, spot, { fit: bands, engagement: bands, cells: list(list(oneOf(VERDICT_KEYS))) });

const scoreSet: Read<ScoreSet> = (json, spot) =>
  readObject<ScoreSet>(
    json,
    spot,
    {
      key: key(),
      name,
      of: orElse(oneOf(SCORED_KINDS), 'lead'),
      on,
      when: orElse(readCondition, { test: 'all', of: [] }),
      fit: bounds,
      engagement: bounds,
      groups: orElse(list(group, { most: 100 }), []),
      signals: list(signal, { most: 500 }),
      grid,
    },
    ['of', 'on', 'when', 'groups'],
  );

const stage: Read<Stage> = (json, spot) =>
  readObject<Stage>(json, spot, { key: key(), name, kind: oneOf(['open', 'out']) });
const verdict: Read<Verdict> = (json, spot) => readObject<Verdict>(json, spot, { key: oneOf(VERDICT_KEYS), name });

const gate: Read<Gate> = (json, spot) =>
  readObject<Gate>(json, spot, { key: key(), name, from: key(), to: key(), on, when: readCondition }, ['on']);

const territory: Read<Territory> = (json, spot) =>
  readObject<Territory>(json, spot, { key: key(), name, parent: orNull(key()), countries: list(text()) }, ['parent']);

const destination: Read<Destination> = (json, spot) => {
  const kind = destinationKind(kindIn(json), spot.at('kind'));
  switch (kind) {
    case 'rep':
      return readObject<Destination & { kind: 'rep' }>(json, spot, { kind: oneOf(['rep']), rep: key() });
    case 'team':
      return readObject<Destination & { kind: 'team' }>(json, spot, { kind: oneOf(['team']), team: key() });
    case 'queue':
      return readObject<Destination & { kind: 'queue' }>(json, spot, { kind: oneOf(['queue']), queue: key() });
  }
};

const route: Read<Route> = (json, spot) =>
  readObject<Route>(json, spot, { key: key(), name, on, when: readCondition, to: destination }, ['on']);

const stream: Read<Stream> = (json, spot) =>
  readObject<Stream>(
    json,
    spot,
    {
      key: key(),
      name,
      on,
      entering: list(key(), { least: 1 }),
      when: orElse(readCondition, { test: 'all', of: [] }),
      routes: list(route, { most: 1000 }),
    },
    ['on', 'when'],
  );

export type CharterReading =
  { readonly ok: true; readonly charter: Charter } | { readonly ok: false; readonly problems: readonly Problem[] };

/**
 * Reads a charter from JSON, also one of an earlier version, and checks all that can be seen without knowing fields and
 * people.
 *
 * @returns the charter, or everything that is wrong, each with a JSON Pointer to the place
 */
export function readCharter(json: unknown): CharterReading {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const charter = readObject<Charter>(fromEarlierVersion(json), spot, {
    format: oneOf([CHARTER_FORMAT]),
    version: (value, at) => {
      if (value !== CHARTER_VERSION) at.say(`must be ${CHARTER_VERSION}, the version this Relvik reads`);
      return CHARTER_VERSION;
    },
    name,
    timeZone: text(),
    baseCurrency: text(),
    stages: list(stage, { least: 1, most: 50 }),
    entry: key(),
    verdicts: list(verdict),
    scoreSets: list(scoreSet, { least: 1, most: MOST_SETS }),
    gates: list(gate, { most: 500 }),
    territories: (value, at) =>
      readObject<Charter['territories']>(value, at, { field: text(), list: list(territory, { most: 2000 }) }),
    streams: list(stream, { most: 200 }),
    lastResort: key(),
  });
  // References make sense only in a document whose form is right.
  if (problems.length === 0) checkCharter(charter, spot);
  return problems.length === 0 ? { ok: true, charter } : { ok: false, problems };
}
