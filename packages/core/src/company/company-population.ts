import { allBits, type Bits, hasBit, noBits, setBit } from '../column/bits';
import { CodeColumn, type Column, MoneyColumn, NumberColumn } from '../column/column';
import type { Events } from '../column/events';
import type { Population } from '../sweep/population';

/** The leads of each company: those of the c-th are `leads[starts[c]]` up to `leads[starts[c + 1]]`, newest first. */
interface Members {
  readonly starts: Uint32Array;
  readonly leads: Uint32Array;
}

/**
 * Companies by columns, put together from their leads by columns: the same as `companyRecord` of each, laid out.
 *
 * @param leads with nothing withheld
 * @param companyOf for each lead the id of its company; 0: it has none
 */
export function companyPopulation(leads: Population, companyOf: Uint32Array): Population {
  const ids = Uint32Array.from(new Set(companyOf.filter((id) => id !== 0))).sort();
  const members = membersOf(leads, companyOf, ids);
  const size = ids.length;
  const arrived = new Float64Array(size);
  for (let c = 0; c < size; c += 1)
    arrived[c] = leads.arrived[members.leads[(members.starts[c + 1] as number) - 1] as number] as number;
  const none = (): Uint32Array => new Uint32Array(size);
  return {
    kind: 'company',
    size,
    ids,
    arrived,
    closed: new Float64Array(size).fill(NaN),
    touched: arrived,
    way: new CodeColumn(none(), [], null),
    columns: new Map([...leads.columns].map(([field, column]) => [field, newest(column, members)])),
    events: new Map([...leads.events].map(([kind, events]) => [kind, together(events, members)])),
    standing: {
      ...{ stage: none(), owner: none(), queue: none(), pin: none(), keys: [], charter: none() },
      stageSince: new Float64Array(size).fill(NaN),
      ...{ open: allBits(size), inBay: noBits(size), looks: new Map() },
    },
    withheld: new Map(),
    given: new Map(),
  };
}

function membersOf({ size, ids: leadIds, arrived }: Population, companyOf: Uint32Array, ids: Uint32Array): Members {
  const placeOf = new Map(Array.from(ids, (id, c) => [id, c]));
  const starts = new Uint32Array(ids.length + 1);
  for (let lead = 0; lead < size; lead += 1) {
    const c = placeOf.get(companyOf[lead] as number);
    if (c !== undefined) starts[c + 1] = (starts[c + 1] as number) + 1;
  }
  for (let c = 0; c < ids.length; c += 1) starts[c + 1] = (starts[c + 1] as number) + (starts[c] as number);
  const next = starts.slice();
  const leads = new Uint32Array(starts[ids.length] as number);
  for (let lead = 0; lead < size; lead += 1) {
    const c = placeOf.get(companyOf[lead] as number);
    if (c === undefined) continue;
    leads[next[c] as number] = lead;
    next[c] = (next[c] as number) + 1;
  }
  for (let c = 0; c < ids.length; c += 1)
    leads
      .subarray(starts[c], starts[c + 1])
      .sort(
        (a, b) => (arrived[b] as number) - (arrived[a] as number) || (leadIds[b] as number) - (leadIds[a] as number),
      );
  return { starts, leads };
}

/** For each company its newest lead for which something is there; −1: none. */
function sources({ starts, leads }: Members, isThere: (lead: number) => boolean): Int32Array {
  const found = new Int32Array(starts.length - 1).fill(-1);
  for (let c = 0; c < found.length; c += 1)
    for (let k = starts[c] as number; k < (starts[c + 1] as number) && found[c] === -1; k += 1) {
      const lead = leads[k] as number;
      if (isThere(lead)) found[c] = lead;
    }
  return found;
}

function newest(column: Column, members: Members): Column {
  switch (column.kind) {
    case 'codes': {
      const { codes, unreadable } = column;
      return codesFrom(
        column,
        sources(members, (lead) => codes[lead] !== 0 || has(unreadable, lead)),
      );
    }
    case 'numbers': {
      const { values, unreadable } = column;
      return numbersFrom(
        column,
        sources(members, (lead) => !Number.isNaN(values[lead]) || has(unreadable, lead)),
      );
    }
    case 'money': {
      const { minor, entered, currencies } = column;
      const from = sources(members, (lead) => currencies.codes[lead] !== 0 || has(currencies.unreadable, lead));
      return new MoneyColumn(
        Float64Array.from(from, (lead) => (lead < 0 ? NaN : (minor[lead] as number))),
        Int32Array.from(from, (lead) => (lead < 0 ? 0 : (entered[lead] as number))),
        codesFrom(currencies, from),
      );
    }
  }
}

function has(bits: Bits | null, at: number): boolean {
  return bits !== null && hasBit(bits, at);
}

function codesFrom({ codes, dictionary, unreadable }: CodeColumn, from: Int32Array): CodeColumn {
  const taken = Uint32Array.from(from, (lead) => (lead < 0 ? 0 : (codes[lead] as number)));
  return new CodeColumn(taken, dictionary, bitsFrom(unreadable, from));
}

function numbersFrom({ values, unreadable }: NumberColumn, from: Int32Array): NumberColumn {
  const taken = Float64Array.from(from, (lead) => (lead < 0 ? NaN : (values[lead] as number)));
  return new NumberColumn(taken, bitsFrom(unreadable, from));
}

function bitsFrom(bits: Bits | null, from: Int32Array): Bits | null {
  if (bits === null) return null;
  const taken = noBits(from.length);
  from.forEach((lead, c) => {
    if (lead >= 0 && hasBit(bits, lead)) setBit(taken, c);
  });
  return taken;
}

/** Everything of one kind that the people of each company did, newest first. */
function together({ starts, at }: Events, members: Members): Events {
  const size = members.starts.length - 1;
  const from = new Uint32Array(size + 1);
  const all = new Float64Array(at.length);
  let end = 0;
  for (let c = 0; c < size; c += 1) {
    for (let k = members.starts[c] as number; k < (members.starts[c + 1] as number); k += 1) {
      const lead = members.leads[k] as number;
      for (let e = starts[lead] as number; e < (starts[lead + 1] as number); e += 1) {
        all[end] = at[e] as number;
        end += 1;
      }
    }
    all.subarray(from[c], end).sort((a, b) => b - a);
    from[c + 1] = end;
  }
  return { starts: from, at: all.slice(0, end) };
}
