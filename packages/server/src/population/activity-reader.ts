import type { Events } from '@relvik/core';
import type { QueryRunner } from 'typeorm';
import type { Places } from './places';

/** The place of the record for which an activity of another counts; −1: none. */
export type PlaceOf = Pick<Places, 'of'>;

/** Activities are read for so many ids at a time, so that no answer exceeds a packet. */
export const STRETCH = 50_000;

const SPACE = 32;
const COMMA = 44;
const DAY = 86_400_000;

/** Days from 1970 to a day of the Gregorian calendar (H. Hinnant, "chrono-compatible low-level date algorithms"). */
function daysTo(year: number, month: number, day: number): number {
  const y = month <= 2 ? year - 1 : year;
  const era = Math.floor(y / 400);
  const ofEra = y - era * 400;
  const ofYear = Math.floor((153 * (month + (month > 2 ? -3 : 9)) + 2) / 5) + day - 1;
  return era * 146_097 + ofEra * 365 + Math.floor(ofEra / 4) - Math.floor(ofEra / 100) + ofYear - 719_468;
}

function whole(bytes: Buffer, from: number, to: number): number {
  let number = 0;
  for (let b = from; b < to; b += 1) number = number * 10 + (bytes[b] as number) - 48;
  return number;
}

/** An instant as the database writes it, `YYYY-MM-DD HH:MM:SS.mmm` in UTC, from its bytes. */
export function instantAt(bytes: Buffer, from: number): number {
  const day = daysTo(whole(bytes, from, from + 4), whole(bytes, from + 5, from + 7), whole(bytes, from + 8, from + 10));
  const hours = whole(bytes, from + 11, from + 13);
  const minutes = whole(bytes, from + 14, from + 16);
  const seconds = whole(bytes, from + 17, from + 19);
  return day * DAY + ((hours * 60 + minutes) * 60 + seconds) * 1000 + whole(bytes, from + 20, from + 23);
}

const INSTANT = 'YYYY-MM-DD HH:MM:SS.mmm'.length;

/** Numbers that are collected without knowing how many there will be. */
class Growing<T extends Uint32Array | Float64Array> {
  length = 0;

  constructor(
    private values: T,
    private readonly longer: (values: T) => T,
  ) {}

  push(value: number): void {
    if (this.length === this.values.length) this.values = this.longer(this.values);
    this.values[this.length] = value;
    this.length += 1;
  }

  at(i: number): number {
    return this.values[i] as number;
  }
}

/** The activities of one kind as they come. */
class Kind {
  readonly places = new Growing(new Uint32Array(1024), (old) => {
    const longer = new Uint32Array(2 * old.length);
    longer.set(old);
    return longer;
  });
  readonly instants = new Growing(new Float64Array(1024), (old) => {
    const longer = new Float64Array(2 * old.length);
    longer.set(old);
    return longer;
  });

  /** By record, newest first. */
  events(size: number): Events {
    const count = this.places.length;
    const starts = new Uint32Array(size + 1);
    for (let e = 0; e < count; e += 1) starts[this.places.at(e) + 1] = (starts[this.places.at(e) + 1] as number) + 1;
    for (let i = 1; i <= size; i += 1) starts[i] = (starts[i] as number) + (starts[i - 1] as number);
    const filled = starts.slice();
    const at = new Float64Array(count);
    for (let e = 0; e < count; e += 1) {
      const place = this.places.at(e);
      const instant = this.instants.at(e);
      let k = filled[place] as number;
      filled[place] = k + 1;
      // Most come oldest first: each goes before those that it is newer than.
      for (; k > (starts[place] as number) && (at[k - 1] as number) < instant; k -= 1) at[k] = at[k - 1] as number;
      at[k] = instant;
    }
    return { starts, at };
  }
}

/** Whether some bytes stand at a place. */
function standsAt(key: Buffer, bytes: Buffer, from: number): boolean {
  for (let b = 0; b < key.length; b += 1) if (key[b] !== bytes[from + b]) return false;
  return true;
}

/** Reads all activities of a population. */
export class ActivityReader {
  private readonly kinds = new Map<string, Kind>();
  /** Kinds by a hash of their bytes: a text for each of a million activities would cost more than all the rest. */
  private readonly byHash = new Map<number, { readonly key: Buffer; readonly kind: Kind }[]>();

  constructor(private readonly placesRead: Promise<PlaceOf>) {}

  /** Reads those of the ids after one, as many as a stretch has. */
  async read(after: number, runner: QueryRunner): Promise<void> {
    const [row] = (await runner.query(
      "SELECT CONVERT(GROUP_CONCAT(record, ' ', at, ' ', kind) USING binary) AS happened FROM activity WHERE record > ? AND record <= ?",
      [after, after + STRETCH],
    )) as { happened: Buffer | null }[];
    const list = row?.happened ?? Buffer.alloc(0);
    const places = await this.placesRead;
    for (let begin = 0; begin < list.length;) {
      let space = begin;
      while (list[space] !== SPACE) space += 1;
      const key = space + 1 + INSTANT + 1;
      let end = key;
      let hash = 0;
      for (; end < list.length && list[end] !== COMMA; end += 1) hash = (hash * 31 + (list[end] as number)) | 0;
      const place = places.of(whole(list, begin, space));
      if (place >= 0) {
        const kind = this.kindAt(list, key, end, hash);
        kind.places.push(place);
        kind.instants.push(instantAt(list, space + 1));
      }
      begin = end + 1;
    }
  }

  private kindAt(list: Buffer, from: number, to: number, hash: number): Kind {
    const alike = this.byHash.get(hash) ?? [];
    for (const { key, kind } of alike) if (key.length === to - from && standsAt(key, list, from)) return kind;
    const kind = new Kind();
    const key = Buffer.from(list.subarray(from, to));
    this.byHash.set(hash, [...alike, { key, kind }]);
    this.kinds.set(key.toString('latin1'), kind);
    return kind;
  }

  /** By kind, in the order of their names. */
  events(size: number): Map<string, Events> {
    const kinds = [...this.kinds].sort(([a], [b]) => (a < b ? -1 : 1));
    return new Map(kinds.map(([key, kind]) => [key, kind.events(size)]));
  }
}
