import type { RecordKind, ScoreSet } from '@relvik/core';
import { freshKey } from '../ui/fresh-key';

type Keyed = { readonly key: string };

/** Gives things keys that nothing has yet. */
function rekeyed(kind: string, list: readonly Keyed[], taken: readonly string[]): Map<string, string> {
  const keys = new Map<string, string>();
  for (const { key } of list) keys.set(key, freshKey(kind, [...taken, ...keys.values()]));
  return keys;
}

function keysIn(sets: readonly ScoreSet[], part: 'signals' | 'groups'): string[] {
  return sets.flatMap((set) => set[part].map(({ key }) => key));
}

/** A copy of one of several sets, with keys of its own throughout. */
export function copyOfSet(set: ScoreSet, sets: readonly ScoreSet[]): ScoreSet {
  const groups = rekeyed('group', set.groups, keysIn(sets, 'groups'));
  const signals = rekeyed('signal', set.signals, keysIn(sets, 'signals'));
  const of = (keys: ReadonlyMap<string, string>, key: string): string => keys.get(key) ?? key;
  return {
    ...set,
    key: freshKey(
      'set',
      sets.map(({ key }) => key),
    ),
    name: `${set.name}, copy`,
    groups: set.groups.map((group) => ({ ...group, key: of(groups, group.key) })),
    signals: set.signals.map((signal) => ({
      ...signal,
      key: of(signals, signal.key),
      group: signal.group === null ? null : of(groups, signal.group),
    })),
  };
}

/** A set without signals that admits nobody yet, with the bounds and the grid of another. */
export function freshSet(of: RecordKind, like: ScoreSet, sets: readonly ScoreSet[]): ScoreSet {
  return {
    ...copyOfSet(like, sets),
    name: 'New score set',
    of,
    on: true,
    when: { test: 'any', of: [] },
    groups: [],
    signals: [],
  };
}
