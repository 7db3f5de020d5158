import { fold } from '../record/fold';

/** One difference between two charters, to read. */
export interface CharterChange {
  readonly what: string;
  readonly from: string | null;
  readonly to: string;
}

interface Named {
  readonly key: string;
  readonly name: string;
}

/** Notes what differs; what is the same is not noted. */
export class ChangeNotes {
  readonly changes: CharterChange[] = [];

  note(what: string, from: string | null, to: string): void {
    if (from !== to) this.changes.push({ what, from, to });
  }

  /** Holds what has the same key against each other: what is new, other than before, or taken out. */
  each<T extends Named>(what: string, was: readonly T[], is: readonly T[], words: (one: T) => string): void {
    const old = new Map(was.map((one) => [one.key, one]));
    for (const one of is) {
      const known = old.get(one.key);
      if (known) this.note(`${what} “${one.name}”`, words(known), words(one));
      else this.note(`New ${fold(what)} “${one.name}”`, null, words(one));
      old.delete(one.key);
    }
    for (const gone of old.values()) this.note(`${what} “${gone.name}”`, words(gone), 'taken out');
  }

  /** The same, without what is new or taken out. */
  eachInBoth<T extends Named>(what: string, was: readonly T[], is: readonly T[], words: (one: T) => string): void {
    this.each(what, inBoth(was, is), inBoth(is, was), words);
  }

  /** The order of what is in both, by name. */
  order<T extends Named>(what: string, was: readonly T[], is: readonly T[]): void {
    const names = (list: readonly T[]): string => list.map((one) => one.name).join(', ');
    this.note(what, names(inBoth(was, is)), names(inBoth(is, was)));
  }
}

function inBoth<T extends Named>(list: readonly T[], other: readonly T[]): T[] {
  return list.filter(({ key }) => other.some((one) => one.key === key));
}
