import { type Problem, Spot } from './problem';

/** The dialect of JSON Schema that is written: draft 2020-12. */
export const JSON_SCHEMA = 'https://json-schema.org/draft/2020-12/schema';

/** A part of a JSON Schema. */
export type JsonSchema = Readonly<Record<string, unknown>>;

/**
 * Reads JSON of unknown shape: says what is wrong at its place and goes on with a stand-in, so that one look finds all. It
 * knows the schema of what it takes, as far as a schema can say it.
 */
export interface Read<T> {
  (json: unknown, spot: Spot): T;
  readonly schema: JsonSchema;
}

export function reader<T>(schema: JsonSchema, read: (json: unknown, spot: Spot) => T): Read<T> {
  return Object.assign((json: unknown, spot: Spot) => read(json, spot), { schema });
}

/** The same form; what its parts must be to each other is checked beside. */
export function refined<T>(read: Read<T>, check: (value: T, spot: Spot) => void): Read<T> {
  return reader(read.schema, (json, spot) => {
    const value = read(json, spot);
    check(value, spot);
    return value;
  });
}

/**
 * Caches the results of a reader by the object that was read, if it had no problems: after an edit of one part, only that part is read
 * again, and the results of the others stay the same objects. Where the result is the same as the object, it is the object. Only
 * for documents that are never mutated.
 */
export function kept<T extends object>(read: Read<T>): Read<T> {
  const known = new WeakMap<object, T>();
  return reader(read.schema, (json, spot) => {
    if (typeof json !== 'object' || json === null) return read(json, spot);
    const before = known.get(json);
    if (before !== undefined) return before;
    const problems: Problem[] = [];
    const made = read(json, Spot.root(problems));
    if (problems.length > 0) return read(json, spot);
    // In its order, too: tests are known by their text.
    const value = JSON.stringify(json) === JSON.stringify(made) ? (json as T) : made;
    known.set(json, value).set(value, value);
    return value;
  });
}

function nameOf(json: unknown): string {
  if (json === undefined) return 'nothing';
  if (json === null) return 'null';
  return Array.isArray(json) ? 'a list' : `a ${typeof json}`;
}

type Members<T> = { readonly [K in keyof T]-?: Read<T[K]> };

/** An object with exactly these members; `optional` ones may be missing. Unknown members are refused. */
export function object<T extends object>(members: Members<T>, optional: readonly (keyof T & string)[] = []): Read<T> {
  const names = Object.keys(members) as (keyof T & string)[];
  const schema = {
    type: 'object',
    properties: Object.fromEntries(names.map((name) => [name, members[name].schema])),
    required: names.filter((name) => !optional.includes(name)),
    additionalProperties: false,
  };
  return reader(schema, (json, spot) => readObject(json, spot, members, optional));
}

/** One of several objects, told apart by one of their members. */
export function oneByKind<T>(by: string, kinds: Readonly<Record<string, Read<T>>>): Read<T> {
  const kindOf = oneOf(Object.keys(kinds));
  return reader({ oneOf: Object.values(kinds).map(({ schema }) => schema) }, (json, spot) => {
    const said: unknown = typeof json === 'object' && json !== null ? Reflect.get(json, by) : undefined;
    const kind = kindOf(said, spot.at(by));
    // An unknown kind is read as the first: what is wrong with the rest of it can't be told.
    const quiet = kinds[kind] === undefined || kind !== said;
    return (kinds[kind] as Read<T>)(json, quiet ? Spot.root([]) : spot);
  });
}

function readObject<T extends object>(
  json: unknown,
  spot: Spot,
  members: Members<T>,
  optional: readonly (keyof T)[],
): T {
  const isObject = typeof json === 'object' && json !== null && !Array.isArray(json);
  if (!isObject) spot.say(`must be an object, not ${nameOf(json)}`);
  const given = new Map<string, unknown>(isObject ? Object.entries(json) : []);
  const result: Partial<T> = {};
  for (const name of Object.keys(members) as (keyof T & string)[]) {
    const value = given.get(name);
    // What is rightly missing, or was already said one level up, is read at a spot that nobody looks at.
    const quiet = value === undefined && (optional.includes(name) || !isObject);
    const missing: Problem[] = [];
    const read = members[name](value, value === undefined ? Spot.root(missing) : spot.at(name));
    // An optional member that is missing is left out, as in the file.
    if (read !== undefined) result[name] = read;
    const [first] = missing;
    if (!quiet && first !== undefined)
      spot.at(name).say(`is missing: it ${first.message.replace(', not nothing', '')}`);
  }
  for (const name of given.keys()) if (!(name in members)) spot.at(name).say('is not known here');
  return result as T;
}

export function list<T>(read: Read<T>, { least = 0, most = 10_000 } = {}): Read<readonly T[]> {
  return reader({ type: 'array', items: read.schema, minItems: least, maxItems: most }, (json, spot) => {
    if (!Array.isArray(json)) {
      spot.say(`must be a list, not ${nameOf(json)}`);
      return [];
    }
    if (json.length < least) spot.say(`must have at least ${least}`);
    if (json.length > most) spot.say(`may have at most ${most}`);
    return json.slice(0, most).map((item, i) => read(item, spot.at(i)));
  });
}

export function text({ most = 200, least = 1 } = {}): Read<string> {
  return reader({ type: 'string', minLength: least, maxLength: most, pattern: '\\S' }, (json, spot) => {
    if (typeof json !== 'string') {
      spot.say(`must be text, not ${nameOf(json)}`);
      return '';
    }
    if (json.trim().length < least) spot.say('must not be empty');
    if (json.length > most) spot.say(`may have at most ${most} characters`);
    return json;
  });
}

const KEY = /^[a-z0-9][a-z0-9_-]{0,47}$/;

/** A key: small letters, digits, `_` and `-`, at most 48. */
export function key<K extends string>(): Read<K> {
  return reader({ type: 'string', pattern: KEY.source }, (json, spot) => {
    if (typeof json !== 'string' || !KEY.test(json))
      spot.say('must be a key: small letters, digits, _ or -, at most 48');
    return (typeof json === 'string' ? json : '') as K;
  });
}

export function oneOf<const T extends string>(choices: readonly T[]): Read<T> {
  return reader(choices.length === 1 ? { const: choices[0] } : { enum: choices }, (json, spot) => {
    const found = choices.find((choice) => choice === json);
    if (found === undefined) spot.say(`must be one of: ${choices.join(', ')}`);
    return found ?? (choices[0] as T);
  });
}

export function number({
  least,
  most,
  decimals = 0,
}: {
  least: number;
  most: number;
  decimals?: number;
}): Read<number> {
  const unit = 10 ** decimals;
  const schema = { type: 'number', minimum: least, maximum: most, multipleOf: 1 / unit };
  return reader(schema, (json, spot) => {
    if (typeof json !== 'number' || !Number.isFinite(json)) {
      spot.say(`must be a number, not ${nameOf(json)}`);
      return 0;
    }
    if (json < least || json > most) spot.say(`must be from ${least} to ${most}`);
    if (Math.abs(Math.round(json * unit) / unit - json) > 1e-9) {
      spot.say(decimals === 0 ? 'must be a whole number' : `may have at most ${decimals} decimals`);
    }
    return json;
  });
}

export const yesNo: Read<boolean> = reader({ type: 'boolean' }, (json, spot) => {
  if (typeof json !== 'boolean') spot.say(`must be true or false, not ${nameOf(json)}`);
  return json === true;
});

/** Missing or null is null. */
export function orNull<T>(read: Read<T>): Read<T | null> {
  return reader({ anyOf: [read.schema, { type: 'null' }] }, (json, spot) =>
    json === undefined || json === null ? null : read(json, spot),
  );
}

/** Missing is the given value. */
export function orElse<T>(read: Read<T>, missing: T): Read<T> {
  return reader(read.schema, (json, spot) => (json === undefined ? missing : read(json, spot)));
}

/** Says so where two things in a list have the same key. */
export function distinctKeys(items: readonly { readonly key: string }[], spot: Spot): void {
  const seen = new Set<string>();
  items.forEach((item, i) => {
    if (seen.has(item.key)) spot.at(i).at('key').say(`stands twice: ${item.key}`);
    seen.add(item.key);
  });
}
