import type { AnyRecord, RecordFacts } from '../record/record';
import type { Value } from '../record/value';

/**
 * A company as score sets read it: of each field the value that its newest lead with one has, everything that its people
 * did, since the first of them came in.
 *
 * @param leads all of the company's, open and closed, at least one
 */
export function companyRecord(id: string, leads: readonly RecordFacts[]): AnyRecord {
  const values = new Map<string, Value>();
  const newestFirst = [...leads].sort((a, b) => b.arrived - a.arrived || Number(b.id) - Number(a.id));
  for (const lead of newestFirst)
    for (const [field, value] of lead.values)
      if (value.kind !== 'blank' && !values.has(field)) values.set(field, value);
  return {
    id,
    arrived: newestFirst.at(-1)?.arrived ?? 0,
    kind: 'company',
    way: null,
    values,
    activities: leads.flatMap((lead) => lead.activities).sort((a, b) => b.at - a.at),
    standing: null,
  };
}
