import { type Problem, Spot } from './problem';

/** Reads JSON of unknown shape: says what is wrong at its place and goes on with a stand-in, so that one look finds all. */
export type Read<T> = (json: unknown, spot: Spot) => T;

function nameOf(json: unknown): string {
  if (json === undefined) return 'nothing';
  if (json === null) return 'null';
  return Array.isArray(json) ? 'a list' : `a ${typeof json}`;
}

/** An object with exactly these members; `optional` ones may be missing. Unknown members are refused. */
export function readObject<T extends object>(
  json: unknown,
  spot: Spot,
  members: { readonly [K in keyof T]-?: Read<T[K]> },
  optional: readonly (keyof T)[] = [],
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
    result[name] = members[name](value, value === undefined ? Spot.root(missing) : spot.at(name));
    const [first] = missing;
    if (!quiet && first !== undefined)
      spot.at(name).say(`is missing: it ${first.message.replace(', not nothing', '')}`);
  }
  for (const name of given.keys()) if (!(name in members)) spot.at(name).say('is not known here');
  return result as T;
}

export function list<T>(read: Read<T>, { least = 0, most = 10_000 } = {}): Read<readonly T[]> {
  return (json, spot) => {
    if (!Array.isArray(json)) {
      spot.say(`must be a list, not ${nameOf(json)}`);
      return [];
    }
    if (json.length < least) spot.say(`must have at least ${least}`);
    if (json.length > most) spot.say(`may have at most ${most}`);
    return json.slice(0, most).map((item, i) => read(item, spot.at(i)));
  };
}

export function text({ most = 200, least = 1 } = {}): Read<string> {
  return (json, spot) => {
    if (typeof json !== 'string') {
      spot.say(`must be text, not ${nameOf(json)}`);
      return '';
    }
    if (json.trim().length < least) spot.say('must not be empty');
    if (json.length > most) spot.say(`may have at most ${most} characters`);
    return json;
  };
}

const KEY = /^[a-z0-9][a-z0-9_-]{0,47}$/;

/** A key: small letters, digits, `_` and `-`, at most 48. */
export function key<K extends string>(): Read<K> {
  return (json, spot) => {
    if (typeof json !== 'string' || !KEY.test(json))
      spot.say('must be a key: small letters, digits, _ or -, at most 48');
    return (typeof json === 'string' ? json : '') as K;
  };
}

export function oneOf<const T extends string>(choices: readonly T[]): Read<T> {
  return (json, spot) => {
    const found = choices.find((choice) => choice === json);
    if (found === undefined) spot.say(`must be one of: ${choices.join(', ')}`);
    return found ?? (choices[0] as T);
  };
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
  return (json, spot) => {
    if (typeof json !== 'number' || !Number.isFinite(json)) {
      spot.say(`must be a number, not ${nameOf(json)}`);
      return 0;
    }
    if (json < least || json > most) spot.say(`must be from ${least} to ${most}`);
    if (Math.abs(Math.round(json * unit) / unit - json) > 1e-9) {
      spot.say(decimals === 0 ? 'must be a whole number' : `may have at most ${decimals} decimals`);
    }
    return json;
  };
}

export const yesNo: Read<boolean> = (json, spot) => {
  if (typeof json !== 'boolean') spot.say(`must be true or false, not ${nameOf(json)}`);
  return json === true;
};

/** Missing or null is null. */
export function orNull<T>(read: Read<T>): Read<T | null> {
  return (json, spot) => (json === undefined || json === null ? null : read(json, spot));
}

/** Missing is the given value. */
export function orElse<T>(read: Read<T>, missing: T): Read<T> {
  return (json, spot) => (json === undefined ? missing : read(json, spot));
}

/** Says so where two things in a list have the same key. */
export function distinctKeys(items: readonly { readonly key: string }[], spot: Spot): void {
  const seen = new Set<string>();
  items.forEach((item, i) => {
    if (seen.has(item.key)) spot.at(i).at('key').say(`stands twice: ${item.key}`);
    seen.add(item.key);
  });
}
