import { type Bits, CodeBuilder, type Look, noBits, type Population, setBit } from '@relvik/core';

/** The columns read of every lead or deal. */
export interface MovingColumns {
  readonly id: string | number;
  readonly arrived: Date;
  readonly closed_at: Date | null;
  readonly touched_at: Date;
  readonly status: string;
  readonly stage: string;
  readonly stage_since: Date;
  readonly way: string;
  readonly place: string;
  readonly owner: string | null;
  readonly queue: string | null;
  readonly pin: string | null;
  readonly open_deals: number;
  readonly came_into: string | null;
  readonly looks: string;
  readonly charter: number;
  readonly contact: number | null;
  readonly company_id: number | null;
}

/** Where leads or deals stand, as they are stored, and when they came, changed and closed. */
export function standingOf(
  leads: readonly Omit<MovingColumns, 'contact' | 'company_id'>[],
): Pick<Population, 'arrived' | 'closed' | 'touched' | 'way' | 'standing'> {
  const size = leads.length;
  const [arrived, closed, touched] = [new Float64Array(size), new Float64Array(size), new Float64Array(size)];
  const known = new Map<string, number>();
  const code = (key: string | null): number => {
    if (key === null) return 0;
    const at = known.get(key) ?? known.size + 1;
    known.set(key, at);
    return at;
  };
  const standing = {
    stage: new Uint32Array(size),
    owner: new Uint32Array(size),
    queue: new Uint32Array(size),
    pin: new Uint32Array(size),
    cameInto: new Uint32Array(size),
    stageSince: new Float64Array(size),
    charter: Uint32Array.from(leads, (lead) => lead.charter),
    open: noBits(size),
    inBay: noBits(size),
    dealt: noBits(size),
    looks: new Map<string, Bits>(),
  };
  // Few gates have few states: each text is read once.
  const passed = new Map<string, readonly string[]>();
  const ways = new CodeBuilder(size);
  leads.forEach((lead, i) => {
    arrived[i] = lead.arrived.getTime();
    closed[i] = lead.closed_at?.getTime() ?? NaN;
    touched[i] = lead.touched_at.getTime();
    ways.add(i, lead.way);
    standing.stage[i] = code(lead.stage);
    standing.stageSince[i] = lead.stage_since.getTime();
    standing.owner[i] = code(lead.place === 'owner' ? lead.owner : null);
    standing.queue[i] = code(lead.place === 'queue' ? lead.queue : null);
    standing.pin[i] = code(lead.pin);
    standing.cameInto[i] = code(lead.came_into);
    if (lead.status === 'open') setBit(standing.open, i);
    if (lead.place === 'bay') setBit(standing.inBay, i);
    if (lead.open_deals > 0) setBit(standing.dealt, i);
    let gates = passed.get(lead.looks);
    if (gates === undefined) {
      const looks = Object.entries(JSON.parse(lead.looks) as Record<string, Look>);
      gates = looks.flatMap(([key, look]) => (look === 'true' ? [key] : []));
      passed.set(lead.looks, gates);
    }
    for (const gate of gates) {
      const bits = standing.looks.get(gate) ?? noBits(size);
      standing.looks.set(gate, bits);
      setBit(bits, i);
    }
  });
  return { arrived, closed, touched, way: ways.build(), standing: { ...standing, keys: [...known.keys()] } };
}
