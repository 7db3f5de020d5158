const COMMA = 44;
const ZERO = 48;

/** Where each record stands among all, by id. */
export class Places implements Holders {
  private readonly byId: Int32Array | null;

  /** @param ids ascending */
  constructor(readonly ids: Uint32Array) {
    const last = ids.at(-1) ?? 0;
    // Ids are mostly dense; where they are not, a table of them would be mostly empty.
    this.byId = last < 8 * ids.length + 1_000_000 ? new Int32Array(last + 1).fill(-1) : null;
    if (this.byId !== null) for (let place = 0; place < ids.length; place += 1) this.byId[ids[place] as number] = place;
  }

  get size(): number {
    return this.ids.length;
  }

  /** The place of an id; −1 for none. */
  of(id: number): number {
    if (this.byId !== null) return this.byId[id] ?? -1;
    let [low, high] = [0, this.ids.length - 1];
    while (low <= high) {
      const middle = (low + high) >>> 1;
      const found = this.ids[middle] as number;
      if (found === id) return middle;
      if (found < id) low = middle + 1;
      else high = middle - 1;
    }
    return -1;
  }

  visit(id: number, visit: (place: number) => void): void {
    const place = this.of(id);
    if (place >= 0) visit(place);
  }
}

/** The records of a population that have what a stored record has: the record itself, or all that are tied to it. */
export interface Holders {
  /** How many records the population has. */
  readonly size: number;
  visit(id: number, visit: (place: number) => void): void;
}

/** Visits the places of ids in decimal with commas between them. */
export function eachIn(holders: Holders, list: Buffer | null, visit: (place: number) => void): void {
  if (list === null) return;
  let id = 0;
  for (let b = 0; b <= list.length; b += 1) {
    const byte = b < list.length ? (list[b] as number) : COMMA;
    if (byte !== COMMA) id = id * 10 + byte - ZERO;
    else {
      holders.visit(id, visit);
      id = 0;
    }
  }
}

/** Where the records stand that are tied to each contact, or to each company. */
export class TiedPlaces implements Holders {
  private readonly starts: Uint32Array;
  private readonly places: Uint32Array;
  private readonly parties: Places;

  /** @param tied for each record of the population the id of what it is tied to; 0: nothing */
  constructor(tied: Uint32Array) {
    this.parties = new Places(Uint32Array.from(new Set(tied.filter((id) => id !== 0))).sort());
    this.starts = new Uint32Array(this.parties.size + 1);
    const of = tied.map((id) => this.parties.of(id));
    for (const party of of) if (party !== NOBODY) this.starts[party + 1] = (this.starts[party + 1] as number) + 1;
    for (let p = 0; p < this.parties.size; p += 1)
      this.starts[p + 1] = (this.starts[p + 1] as number) + (this.starts[p] as number);
    this.places = new Uint32Array(this.starts[this.parties.size] as number);
    const next = this.starts.slice();
    of.forEach((party, place) => {
      if (party === NOBODY) return;
      this.places[next[party] as number] = place;
      next[party] = (next[party] as number) + 1;
    });
    this.size = tied.length;
  }

  readonly size: number;

  visit(id: number, visit: (place: number) => void): void {
    const party = this.parties.of(id);
    if (party < 0) return;
    for (let k = this.starts[party] as number; k < (this.starts[party + 1] as number); k += 1)
      visit(this.places[k] as number);
  }
}

/** −1 among unsigned numbers: tied to nobody. */
const NOBODY = 0xffffffff;
