import { dayNumber, type Rates, type RecordFacts } from '@relvik/core';
import { factOfField } from './literal';

/** A record as libraries know one: folded texts, numbers, days as numbers, amounts in the base currency; null where blank. */
export type PlainFacts = Record<string, string | number | boolean | null>;

/** The facts of a record; null when some value can't be read, which the peers have no answer for. */
export function plainFacts(
  record: RecordFacts,
  fields: Iterable<string>,
  rates: Rates,
  base: string,
): PlainFacts | null {
  const facts: PlainFacts = {};
  for (const key of fields) {
    const field = factOfField(key);
    const value = record.values.get(key) ?? record.tied?.get(key) ?? { kind: 'blank' as const };
    switch (value.kind) {
      case 'blank':
        facts[field] = null;
        break;
      case 'text':
        facts[field] = value.folded;
        break;
      case 'choices':
        facts[field] = value.folded;
        break;
      case 'number':
        facts[field] = value.scaled / 10_000;
        break;
      case 'yes-no':
        facts[field] = value.yes;
        break;
      case 'date':
        facts[field] = dayNumber(value.day);
        break;
      case 'money': {
        const amount = rates.toBase(value, base);
        if (amount === null) return null;
        facts[field] = amount / 100;
        facts[`${field}_currency`] = value.currency;
        break;
      }
      case 'unreadable':
        return null;
    }
  }
  return facts;
}
