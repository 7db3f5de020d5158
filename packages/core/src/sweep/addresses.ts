import { eachBit } from '../column/bits';
import type { CodeColumn, Column } from '../column/column';
import { BLANK, type Value } from '../record/value';
import type { AddressFields } from '../territory/territory';
import type { Population } from './population';

/** One part of the addresses of all records. */
export class AddressPart {
  readonly dictionary: readonly string[];
  /** How many values it has, the blank and the unreadable one among them. */
  readonly size: number;
  /** Of each record: 0 where it is blank, the last place where it can't be read, else as its column has it. */
  readonly places: Uint32Array;

  constructor(column: Column | undefined, records: number) {
    const found = column?.kind === 'codes' ? column : null;
    this.dictionary = found?.dictionary ?? [];
    this.size = this.dictionary.length + 2;
    this.places = found === null ? new Uint32Array(records) : withUnreadable(found, this.size - 1);
  }

  /** The value at a place; codes are upper case in values, folded in columns. */
  value(place: number): Value {
    if (place === 0) return BLANK;
    const folded = this.dictionary[place - 1];
    if (folded === undefined) return { kind: 'unreadable', raw: '', why: '' };
    return { kind: 'text', text: folded.toUpperCase(), folded };
  }

  /** Maps the value at each place to a number. */
  each(of: (value: Value) => number): Uint32Array {
    return Uint32Array.from({ length: this.size }, (_, place) => of(this.value(place)));
  }
}

function withUnreadable({ codes, unreadable }: CodeColumn, last: number): Uint32Array {
  if (unreadable === null) return codes;
  const places = codes.slice();
  eachBit(unreadable, (i) => {
    places[i] = last;
  });
  return places;
}

/** The addresses of a population, each once: many records have the same. */
export interface Addresses {
  readonly country: AddressPart;
  readonly region: AddressPart;
  readonly postalCode: AddressPart;
  /** Of each record the number of its address. */
  readonly of: Uint32Array;
  /** The records that are pinned to a territory. */
  readonly pinned: Uint32Array;
  /** Of each address the places of its parts. */
  readonly countries: Uint32Array;
  readonly regions: Uint32Array;
  readonly postalCodes: Uint32Array;
}

const known = new WeakMap<Population, Map<string, Addresses>>();

/** The addresses in some fields of a population: found once, since records of a population never change. */
export function addressesOf(population: Population, fields: AddressFields): Addresses {
  const { field, regionField, postalField } = fields;
  const own = known.get(population) ?? new Map<string, Addresses>();
  known.set(population, own);
  const key = JSON.stringify([field, regionField, postalField]);
  const addresses = own.get(key) ?? distinctAddresses(population, fields);
  own.set(key, addresses);
  return addresses;
}

function distinctAddresses({ columns, size, standing }: Population, fields: AddressFields): Addresses {
  const part = (field: string | null): AddressPart =>
    new AddressPart(field === null ? undefined : columns.get(field), size);
  const [country, region, postalCode] = [part(fields.field), part(fields.regionField), part(fields.postalField)];
  const of = new Uint32Array(size);
  const numbers = new Map<number, number>();
  const [countries, regions, postalCodes]: [number[], number[], number[]] = [[], [], []];
  for (let i = 0; i < size; i += 1) {
    const [c, r, p] = [country.places[i] as number, region.places[i] as number, postalCode.places[i] as number];
    const address = (c * region.size + r) * postalCode.size + p;
    const number = numbers.get(address) ?? countries.length;
    of[i] = number;
    if (number < countries.length) continue;
    numbers.set(address, number);
    countries.push(c);
    regions.push(r);
    postalCodes.push(p);
  }
  return {
    ...{ country, region, postalCode, of },
    pinned: Uint32Array.from(standing.pin.keys()).filter((i) => standing.pin[i] !== 0),
    countries: Uint32Array.from(countries),
    regions: Uint32Array.from(regions),
    postalCodes: Uint32Array.from(postalCodes),
  };
}
