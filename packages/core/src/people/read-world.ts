import { type Problem, Spot } from '../document/problem';
import {
  distinctKeys,
  JSON_SCHEMA,
  type JsonSchema,
  key,
  list,
  number,
  object,
  oneOf,
  orElse,
  orNull,
  type Read,
  reader,
  refined,
  text,
  yesNo,
} from '../document/read-json';
import { type ActivityKind, kindsFrom, STANDARD_KINDS } from '../activity/activity-kind';
import { isDay } from '../record/day';
import { optionProblem } from '../record/choices';
import { fieldProblems, withTags } from '../record/catalogue';
import { type Field, FIELD_KEY, FIELD_ROLES, FIELD_TYPES, isChosen } from '../record/field';
import type { Instant, RepKey, RouteKey } from '../record/keys';
import { isOwnRegion, type OwnRegion } from '../record/region';
import type { Spelling } from '../record/spelling';
import { currencyDecimals, type Rate, Rates } from '../record/money';
import { parseScaled, showScaled } from '../record/scaled';
import type { World } from './world';
import type { Queue, Rep, SkillList, Team, Turn } from './people';
import {
  checkSkillsAndTeams,
  type PlaceHolidays,
  readHolidays,
  readQueue,
  readRep,
  readSkillList,
  readTeam,
} from './read-people';

export const WORLD_FORMAT = 'relvik-world';

/** The world as a document: fields, people, rates, and where loads and turns stand. */
export interface WorldDocument {
  readonly format: typeof WORLD_FORMAT;
  readonly version: 1;
  readonly fields: readonly Field[];
  /** Missing: the standard ones. */
  readonly kinds?: readonly ActivityKind[];
  readonly reps: readonly Rep[];
  readonly teams: readonly Team[];
  readonly queues: readonly Queue[];
  /** Missing: none. */
  readonly skills?: readonly SkillList[];
  /** Public holidays of places. Missing: none. */
  readonly holidays?: readonly PlaceHolidays[];
  /** The currency in which rates are given. Missing: EUR. */
  readonly referenceCurrency?: string;
  readonly rates: readonly { readonly currency: string; readonly from: string; readonly rate: string }[];
  /** `last` is when they last got a lead; missing: never. */
  readonly loads: readonly { readonly rep: RepKey; readonly open: number; readonly last?: Instant }[];
  readonly turns: readonly ({ readonly route: RouteKey } & Turn)[];
}

export type WorldReading =
  { readonly ok: true; readonly world: World } | { readonly ok: false; readonly problems: readonly Problem[] };

/** The currency in which rates are given where a world does not say. */
export const DEFAULT_REFERENCE = 'EUR';

const name = text({ most: 120 });

const fieldKey: Read<string> = reader({ type: 'string', pattern: FIELD_KEY.source }, (json, spot) => {
  const key = text()(json, spot);
  if (!FIELD_KEY.test(key))
    spot.say(
      'must be a field key: a small letter, then small letters, digits or _, with contact., company. or deal. before it for another kind than leads, at most 48',
    );
  return key;
});

const field: Read<Field> = refined(
  object<Field>(
    {
      key: fieldKey,
      name,
      type: oneOf(FIELD_TYPES),
      options: orElse(list(text()), []),
      retiredOptions: orElse(list(text()), []),
      retired: orElse(yesNo, false),
      personal: orElse(yesNo, false),
      role: orNull(oneOf(FIELD_ROLES)),
      feeds: orNull(text()),
      optionList: orElse<string | undefined>(text({ most: 48 }), undefined),
      spellings: orElse(list(object<Spelling>({ written: text(), means: text() }), { most: 5000 }), undefined),
      ownRegions: orElse(list(object<OwnRegion>({ code: text(), name }), { most: 2000 }), undefined),
    },
    ['options', 'retiredOptions', 'retired', 'personal', 'role', 'feeds', 'optionList', 'spellings', 'ownRegions'],
  ),
  (read, spot) => {
    if (isChosen(read.type))
      read.options.forEach((option, i) => {
        const problem = optionProblem(option);
        if (problem !== null) spot.at('options').at(i).say(problem);
      });
    (read.ownRegions ?? []).forEach(({ code }, i) => {
      if (!isOwnRegion(code))
        spot
          .at('ownRegions')
          .at(i)
          .at('code')
          .say(`must be a country, a hyphen and at least four letters or digits: ${code}`);
    });
  },
);

const activityKind: Read<ActivityKind> = object<ActivityKind>(
  { key: key(), name, by: oneOf(['them', 'us'] as const), retired: orElse(yesNo, false) },
  ['retired'],
);

const rate: Read<WorldDocument['rates'][number]> = refined(
  object<WorldDocument['rates'][number]>({ currency: text(), from: text(), rate: text() }),
  (read, spot) => {
    if (currencyDecimals(read.currency) === undefined)
      spot.at('currency').say(`is no currency in use: ${read.currency}`);
    if (!isDay(read.from)) spot.at('from').say('is not a day written YYYY-MM-DD');
    const micro = parseScaled(read.rate, 6);
    if (!micro.ok) spot.at('rate').say(micro.why);
    else if (micro.scaled <= 0) spot.at('rate').say('must be above 0');
  },
);

/** The key of a route, of where it leads when nobody is free, or of a team to which people give by hand. */
const turnKey: Read<RouteKey> = reader({ type: 'string', pattern: '^~?[a-z0-9][a-z0-9_-]{0,47}~?$' }, (json, spot) =>
  key<RouteKey>()(typeof json === 'string' ? json.replace(/^~|~$/g, '') : json, spot) === ''
    ? ('' as RouteKey)
    : (json as RouteKey),
);

const worldForm: Read<WorldDocument> = object<WorldDocument>(
  {
    format: oneOf([WORLD_FORMAT]),
    version: reader<1>({ const: 1 }, (value, at) => {
      if (value !== 1) at.say('must be 1, the version this Relvik reads');
      return 1;
    }),
    fields: list(field),
    kinds: orElse(list(activityKind), STANDARD_KINDS),
    reps: list(readRep),
    teams: list(readTeam),
    queues: list(readQueue),
    skills: orElse<WorldDocument['skills']>(list(readSkillList, { most: 50 }), undefined),
    holidays: orElse<WorldDocument['holidays']>(list(readHolidays, { most: 1000 }), undefined),
    referenceCurrency: orElse(text(), DEFAULT_REFERENCE),
    rates: orElse(list(rate), []),
    loads: orElse(
      list(
        object<WorldDocument['loads'][number]>(
          {
            rep: key(),
            open: number({ least: 0, most: 1e9 }),
            last: orElse<number | undefined>(number({ least: 0, most: 9e15 }), undefined),
          },
          ['last'],
        ),
      ),
      [],
    ),
    turns: orElse(
      list(
        object<WorldDocument['turns'][number]>(
          {
            route: turnKey,
            lastServed: key(),
            order: list(key()),
            credits: orElse<Turn['credits']>(list(number({ least: -1e9, most: 1e9 })), undefined),
          },
          ['credits'],
        ),
      ),
      [],
    ),
  },
  ['kinds', 'skills', 'holidays', 'referenceCurrency', 'rates', 'loads', 'turns'],
);

/** The form of a world as a JSON Schema. What its parts must be to each other is checked beside, by {@link readWorld}. */
export const WORLD_SCHEMA: JsonSchema = {
  $schema: JSON_SCHEMA,
  title: 'Relvik world, version 1',
  description:
    'Fields, people, rates, and where loads and turns stand. That members exist and keys differ is checked by `relvik check`.',
  ...worldForm.schema,
};

/** A rate as written, in millionths. */
export function toRate(written: WorldDocument['rates'][number]): Rate {
  const micro = parseScaled(written.rate, 6);
  return { currency: written.currency, from: written.from, micro: micro.ok ? micro.scaled : 0 };
}

/** Reads a world from JSON: the world, or everything that is wrong with a JSON Pointer to each place. */
export function readWorld(json: unknown): WorldReading {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const read = worldForm(json, spot);
  const kinds = read.kinds ?? STANDARD_KINDS;
  distinctKeys(kinds, spot.at('kinds'));
  for (const part of ['fields', 'reps', 'teams', 'queues'] as const) distinctKeys(read[part], spot.at(part));
  distinctKeys(read.skills ?? [], spot.at('skills'));
  checkSkillsAndTeams(read, spot);
  const fields = withTags(read.fields);
  read.fields.forEach((one, i) => {
    for (const { at, message } of fieldProblems(one, fields)) spot.at('fields').at(i).at(at).say(message);
  });
  const reps = new Map(read.reps.map((r) => [r.key, r]));
  const known = (member: RepKey, at: Spot): void => {
    if (!reps.has(member)) at.say(`no such rep: ${member}`);
  };
  for (const part of ['teams', 'queues'] as const) {
    read[part].forEach(({ members }, i) => {
      members.forEach((member, j) => {
        const at = spot.at(part).at(i).at('members').at(j);
        known(member, at);
        // In a round robin over [a, b, a, c] it would never be c's turn.
        if (members.indexOf(member) < j) at.say(`stands twice: ${member}`);
      });
    });
  }
  const reference = read.referenceCurrency ?? DEFAULT_REFERENCE;
  if (currencyDecimals(reference) === undefined)
    spot.at('referenceCurrency').say(`is no currency in use: ${reference}`);
  read.rates.forEach(({ currency, from }, i) => {
    const at = spot.at('rates').at(i);
    if (currency === reference) at.at('currency').say(`is the reference currency itself: ${reference}`);
    if (read.rates.findIndex((other) => other.currency === currency && other.from === from) < i)
      at.at('from').say(`is the day of another rate of ${currency}`);
  });
  read.loads.forEach((load, i) => {
    known(load.rep, spot.at('loads').at(i).at('rep'));
  });
  if (problems.length > 0) return { ok: false, problems };
  return {
    ok: true,
    world: {
      fields,
      kinds: kindsFrom(kinds),
      reps,
      teams: new Map(read.teams.map((t) => [t.key, t])),
      queues: new Map(read.queues.map((q) => [q.key, q])),
      skills: new Map((read.skills ?? []).map((one) => [one.key, one])),
      holidays: new Map((read.holidays ?? []).map(({ place, days }) => [place, days])),
      rates: new Rates(read.rates.map(toRate), reference),
      rota: {
        loads: new Map(read.loads.map((l) => [l.rep, l.open])),
        lastGiven: new Map(read.loads.flatMap((l) => (l.last === undefined ? [] : [[l.rep, l.last] as const]))),
        turns: new Map(read.turns.map(({ route, ...turn }) => [route, turn])),
      },
    },
  };
}

/** The document of a world whose rota has moved on: the rest as it was read. */
export function withRota(document: WorldDocument, rota: World['rota']): WorldDocument {
  const inKeyOrder = <K extends string, V>(map: ReadonlyMap<K, V>): [K, V][] =>
    [...map].sort(([a], [b]) => (a < b ? -1 : 1));
  return {
    ...document,
    loads: inKeyOrder(rota.loads).map(([r, open]) => {
      const last = rota.lastGiven.get(r);
      return { rep: r, open, ...(last === undefined ? {} : { last }) };
    }),
    turns: inKeyOrder(rota.turns).map(([route, turn]) => ({ route, ...turn })),
  };
}

/** A rate in millionths as it is written. */
export function showRate(micro: number): string {
  return showScaled(micro, 6);
}
