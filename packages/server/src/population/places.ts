const COMMA = 44;
const ZERO = 48;

/** Where each record stands among all, by id. */
export class Places {
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

  /** Visits the places of ids in decimal with commas between them. */
  each(list: Buffer | null, visit: (place: number) => void): void {
    if (list === null) return;
    let id = 0;
    for (let b = 0; b <= list.length; b += 1) {
      const byte = b < list.length ? (list[b] as number) : COMMA;
      if (byte !== COMMA) id = id * 10 + byte - ZERO;
      else {
        const place = this.of(id);
        if (place >= 0) visit(place);
        id = 0;
      }
    }
  }
}
