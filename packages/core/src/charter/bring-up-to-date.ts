import { mergedOrder } from '../document/merged-order';
import type { Charter } from './charter';

/** A place where the draft and the charter in force both changed the same thing, differently. The draft's stands. */
export interface Clash {
  /** JSON Pointer, with keys in place of list positions. */
  readonly path: string;
  readonly inForce: unknown;
  readonly draft: unknown;
}

export interface BroughtUpToDate {
  readonly charter: Charter;
  readonly clashes: readonly Clash[];
}

type Json = unknown;
type Keyed = { readonly key: string };

const same = (a: Json, b: Json): boolean => JSON.stringify(a) === JSON.stringify(b);

function isKeyedList(value: Json): value is readonly Keyed[] {
  return (
    Array.isArray(value) &&
    value.every((one: Json) => typeof one === 'object' && one !== null && 'key' in one && typeof one.key === 'string')
  );
}

function isObject(value: Json): value is Readonly<Record<string, Json>> {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** Conditions are one thing: half of one and half of another would be neither. */
function isCondition(value: Json): boolean {
  return isObject(value) && 'test' in value;
}

/** The keys of a grid's bands; null: it is no grid. Cuts and cells go by their places: grids of other bands are not mixed. */
function bandsIn(value: Json): string | null {
  if (!isObject(value) || !('cells' in value)) return null;
  const keysOn = (axis: Json): Json =>
    isObject(axis) && isKeyedList(axis['bands']) ? axis['bands'].map(({ key }) => key) : [];
  return JSON.stringify([keysOn(value['fit']), keysOn(value['engagement'])]);
}

/**
 * Carries what a draft changed against its base over to the charter that is in force now.
 *
 * What only one of both changed is taken from it. Lists of things with keys are merged thing by thing; their order is the
 * draft's where the draft changed it. What both changed differently is the draft's, and named.
 */
export function bringUpToDate(base: Charter, draft: Charter, inForce: Charter): BroughtUpToDate {
  const clashes: Clash[] = [];

  function merge(path: string, was: Json, mine: Json, theirs: Json): Json {
    if (same(mine, theirs) || same(was, theirs)) return mine;
    if (same(was, mine)) return theirs;
    if (isKeyedList(was) && isKeyedList(mine) && isKeyedList(theirs)) return mergeList(path, was, mine, theirs);
    const mixes = !isCondition(mine) && bandsIn(was) === bandsIn(mine) && bandsIn(was) === bandsIn(theirs);
    if (isObject(was) && isObject(mine) && isObject(theirs) && mixes) {
      const names = new Set([...Object.keys(theirs), ...Object.keys(mine)]);
      return Object.fromEntries(
        [...names].map((name) => [name, merge(`${path}/${name}`, was[name], mine[name], theirs[name])]),
      );
    }
    clashes.push({ path, inForce: theirs, draft: mine });
    return mine;
  }

  function mergeList(path: string, was: readonly Keyed[], mine: readonly Keyed[], theirs: readonly Keyed[]): Json {
    const keysOf = (list: readonly Keyed[]): string[] => list.map(({ key }) => key);
    const by = (list: readonly Keyed[]): Map<string, Keyed> => new Map(list.map((one) => [one.key, one]));
    const [wasBy, mineBy, theirsBy] = [by(was), by(mine), by(theirs)];
    const reordered = !same(
      keysOf(mine).filter((key) => wasBy.has(key)),
      keysOf(was).filter((key) => mineBy.has(key)),
    );
    const [first, second] = reordered ? [keysOf(mine), keysOf(theirs)] : [keysOf(theirs), keysOf(mine)];
    return mergedOrder(first, second).flatMap((key): Json[] => {
      const [before, own, other] = [wasBy.get(key), mineBy.get(key), theirsBy.get(key)];
      if (own !== undefined && other !== undefined)
        return [
          before === undefined && !same(own, other)
            ? clash(path, key, own, other)
            : merge(`${path}/${key}`, before, own, other),
        ];
      const left = own ?? other;
      if (before === undefined) return [left];
      // One took it out. Where the other changed it, that change would be lost.
      if (same(before, left)) return [];
      clashes.push({ path: `${path}/${key}`, inForce: other ?? null, draft: own ?? null });
      return own === undefined ? [] : [own];
    });
  }

  function clash(path: string, key: string, own: Keyed, other: Keyed): Keyed {
    clashes.push({ path: `${path}/${key}`, inForce: other, draft: own });
    return own;
  }

  return { charter: merge('', base, draft, inForce) as Charter, clashes };
}
