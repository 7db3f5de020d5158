import { type Problem, Spot } from '../document/problem';
import {
  distinctKeys,
  key,
  list,
  number,
  oneOf,
  orElse,
  orNull,
  type Read,
  readObject,
  text,
  yesNo,
} from '../document/read-json';
import { type ActivityKind, kindsFrom, STANDARD_KINDS } from '../record/activity-kind';
import { isDay } from '../record/day';
import { type Field, FIELD_KEY, FIELD_TYPES, RESERVED_KEYS } from '../record/field';
import type { RepKey, RouteKey } from '../record/keys';
import { currencyDecimals, type Rate, Rates } from '../record/money';
import { parseScaled, showScaled } from '../record/scaled';
import type { World } from '../world';
import type { Queue, Rep, Team, Turn } from './people';

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
  /** The currency in which rates are given. Missing: EUR. */
  readonly referenceCurrency?: string;
  readonly rates: readonly { readonly currency: string; readonly from: string; readonly rate: string }[];
  readonly loads: readonly { readonly rep: RepKey; readonly open: number }[];
  readonly turns: readonly ({ readonly route: RouteKey } & Turn)[];
}

export type WorldReading =
  { readonly ok: true; readonly world: World } | { readonly ok: false; readonly problems: readonly Problem[] };

/** The currency in which rates are given where a world does not say. */
export const DEFAULT_REFERENCE = 'EUR';

const name = text({ most: 120 });

const field: Read<Field> = (json, spot) => {
  const read = readObject<Field>(
    json,
    spot,
    { key: text(), name, type: oneOf(FIELD_TYPES), options: orElse(list(text()), []), retired: orElse(yesNo, false) },
    ['options', 'retired'],
  );
  if (!FIELD_KEY.test(read.key))
    spot.at('key').say('must be a field key: a small letter, then small letters, digits or _, at most 48');
  if (RESERVED_KEYS.has(read.key)) spot.at('key').say(`is kept for what Relvik computes: ${read.key}`);
  return read;
};

const activityKind: Read<ActivityKind> = (json, spot) =>
  readObject<ActivityKind>(
    json,
    spot,
    { key: key(), name, by: oneOf(['them', 'us'] as const), retired: orElse(yesNo, false) },
    ['retired'],
  );

const rep: Read<Rep> = (json, spot) =>
  readObject<Rep>(
    json,
    spot,
    { key: key(), name, mayTakeLeads: orElse(yesNo, true), limit: orNull(number({ least: 0, most: 100_000 })) },
    ['mayTakeLeads', 'limit'],
  );

const team: Read<Team> = (json, spot) => readObject<Team>(json, spot, { key: key(), name, members: list(key()) });
const queue: Read<Queue> = (json, spot) =>
  readObject<Queue>(json, spot, { key: key(), name, members: orElse(list(key()), []) }, ['members']);

const rate: Read<WorldDocument['rates'][number]> = (json, spot) => {
  const read = readObject<WorldDocument['rates'][number]>(json, spot, { currency: text(), from: text(), rate: text() });
  if (currencyDecimals(read.currency) === undefined) spot.at('currency').say(`is no currency in use: ${read.currency}`);
  if (!isDay(read.from)) spot.at('from').say('is not a day written YYYY-MM-DD');
  const micro = parseScaled(read.rate, 6);
  if (!micro.ok) spot.at('rate').say(micro.why);
  else if (micro.scaled <= 0) spot.at('rate').say('must be above 0');
  return read;
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
  const read = readObject<WorldDocument>(
    json,
    spot,
    {
      format: oneOf([WORLD_FORMAT]),
      version: (value, at) => {
        if (value !== 1) at.say('must be 1, the version this Relvik reads');
        return 1;
      },
      fields: list(field),
      kinds: orElse(list(activityKind), STANDARD_KINDS),
      reps: list(rep),
      teams: list(team),
      queues: list(queue),
      referenceCurrency: orElse(text(), DEFAULT_REFERENCE),
      rates: orElse(list(rate), []),
      loads: orElse(
        list((l, at) =>
          readObject<WorldDocument['loads'][number]>(l, at, { rep: key(), open: number({ least: 0, most: 1e9 }) }),
        ),
        [],
      ),
      turns: orElse(
        list((t, at) =>
          readObject<WorldDocument['turns'][number]>(t, at, { route: key(), lastServed: key(), order: list(key()) }),
        ),
        [],
      ),
    },
    ['kinds', 'referenceCurrency', 'rates', 'loads', 'turns'],
  );
  const kinds = read.kinds ?? STANDARD_KINDS;
  distinctKeys(kinds, spot.at('kinds'));
  for (const part of ['fields', 'reps', 'teams', 'queues'] as const) distinctKeys(read[part], spot.at(part));
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
      fields: new Map(read.fields.map((f) => [f.key, f])),
      kinds: kindsFrom(kinds),
      reps,
      teams: new Map(read.teams.map((t) => [t.key, t])),
      queues: new Map(read.queues.map((q) => [q.key, q])),
      rates: new Rates(read.rates.map(toRate), reference),
      rota: {
        loads: new Map(read.loads.map((l) => [l.rep, l.open])),
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
    loads: inKeyOrder(rota.loads).map(([r, open]) => ({ rep: r, open })),
    turns: inKeyOrder(rota.turns).map(([route, turn]) => ({ route, ...turn })),
  };
}

/** A rate in millionths as it is written. */
export function showRate(micro: number): string {
  return showScaled(micro, 6);
}
