import { CONDITION_DEFINITIONS, readCondition } from '../condition/read-condition';
import type { Gate, Stage } from '../gate/gate';
import type { Bands, Grid } from '../grade/grid';
import { type Verdict, VERDICT_KEYS } from '../grade/verdict';
import type { Destination, Route, Stream } from '../route/route';
import { type Fade, LONGEST_FADE } from '../signal/fade';
import { readHaving } from '../activity/read-having';
import {
  type ActivitySignal,
  type AttributeSignal,
  AXES,
  type Signal,
  type SignalGroup,
  type SilenceSignal,
} from '../signal/signal';
import { type AxisBounds, MOST_SETS, SCORED_KINDS, type ScoreSet } from '../score/score-set';
import type { Territory } from '../territory/territory';
import { type Charter, CHARTER_FORMAT, CHARTER_VERSION } from './charter';
import { checkCharter } from './check-charter';
import { fromEarlierVersion } from './earlier-versions';
import { type Problem, Spot } from '../document/problem';
import {
  JSON_SCHEMA,
  type JsonSchema,
  key,
  list,
  number,
  object,
  oneByKind,
  oneOf,
  orElse,
  orNull,
  type Read,
  reader,
  refined,
  text,
  yesNo,
} from '../document/read-json';

const name = text({ most: 120 });
const on = orElse(yesNo, true);
const points: Read<number> = number({ least: -100_000, most: 100_000, decimals: 2 });
const days = number({ least: 1, most: LONGEST_FADE });
/** A cap by points. Nothing above zero would be held to less than the smallest step. */
const cap = number({ least: 0.01, most: 1_000_000, decimals: 2 });
const fade: Read<Fade> = object<{ kind: Fade['kind']; days: number }>({ kind: oneOf(['half-life', 'end']), days });

const group: Read<SignalGroup> = object<SignalGroup>({ key: key(), name, axis: oneOf(AXES), cap });

const common = { key: key<string>(), name, axis: oneOf(AXES), on, points, group: orNull(key<string>()) };
const most = orNull(number({ least: 1, most: 10_000 }));
const signal: Read<Signal> = oneByKind<Signal>('kind', {
  attribute: object<AttributeSignal>({ kind: oneOf(['attribute']), ...common, when: readCondition }, ['on', 'group']),
  activity: object<ActivitySignal>(
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
  ),
  silence: object<SilenceSignal>({ kind: oneOf(['silence']), ...common, every: days, most }, ['on', 'group', 'most']),
});

const edge = number({ least: -1_000_000, most: 1_000_000, decimals: 2 });
const bounds: Read<AxisBounds> = refined(
  object<AxisBounds>({ least: edge, most: edge, decimals: orElse(number({ least: 0, most: 2 }), 0) }, ['decimals']),
  (read, spot) => {
    if (read.least >= read.most) spot.say('its least must be below its most');
  },
);

const bands: Read<Bands> = refined(
  object<Bands>({ names: list(text({ most: 40 })), cuts: list(edge) }),
  ({ cuts }, spot) => {
    cuts.forEach((at, i) => {
      const below = cuts[i - 1];
      if (below !== undefined && at <= below) spot.at('cuts').at(i).say(`must be above the cut before it, ${below}`);
    });
  },
);

const grid: Read<Grid> = object<Grid>({ fit: bands, engagement: bands, cells: list(list(oneOf(VERDICT_KEYS))) });

const scoreSet: Read<ScoreSet> = object<ScoreSet>(
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

const stage: Read<Stage> = object<Stage>({ key: key(), name, kind: oneOf(['open', 'out']) });
const verdict: Read<Verdict> = object<Verdict>({ key: oneOf(VERDICT_KEYS), name });

const gate: Read<Gate> = object<Gate>({ key: key(), name, from: key(), to: key(), on, when: readCondition }, ['on']);

const territory: Read<Territory> = object<Territory>(
  { key: key(), name, parent: orNull(key()), countries: list(text()) },
  ['parent'],
);

const destination: Read<Destination> = oneByKind<Destination>('kind', {
  rep: object<Destination & { kind: 'rep' }>({ kind: oneOf(['rep']), rep: key() }),
  team: object<Destination & { kind: 'team' }>({ kind: oneOf(['team']), team: key() }),
  queue: object<Destination & { kind: 'queue' }>({ kind: oneOf(['queue']), queue: key() }),
});

const route: Read<Route> = object<Route>({ key: key(), name, on, when: readCondition, to: destination }, ['on']);

const stream: Read<Stream> = object<Stream>(
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

const charterForm: Read<Charter> = object<Charter>({
  format: oneOf([CHARTER_FORMAT]),
  version: reader({ const: CHARTER_VERSION }, (value, at) => {
    if (value !== CHARTER_VERSION) at.say(`must be ${CHARTER_VERSION}, the version this Relvik reads`);
    return CHARTER_VERSION;
  }),
  name,
  timeZone: text(),
  baseCurrency: text(),
  stages: list(stage, { least: 1, most: 50 }),
  entry: key(),
  verdicts: list(verdict),
  scoreSets: list(scoreSet, { least: 1, most: MOST_SETS }),
  gates: list(gate, { most: 500 }),
  territories: object<Charter['territories']>({ field: text(), list: list(territory, { most: 2000 }) }),
  streams: list(stream, { most: 200 }),
  lastResort: key(),
});

/** The form of a charter as a JSON Schema. What its parts must be to each other is checked beside, by {@link readCharter}. */
export const CHARTER_SCHEMA: JsonSchema = {
  $schema: JSON_SCHEMA,
  title: `Relvik charter, version ${CHARTER_VERSION}`,
  description:
    'The form of a charter. What its parts must be to each other (ascending cuts, stages that exist, fields that suit their tests) is checked by `relvik check`.',
  ...charterForm.schema,
  $defs: CONDITION_DEFINITIONS,
};

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
  const charter = charterForm(fromEarlierVersion(json), spot);
  // References make sense only in a document whose form is right.
  if (problems.length === 0) checkCharter(charter, spot);
  return problems.length === 0 ? { ok: true, charter } : { ok: false, problems };
}
