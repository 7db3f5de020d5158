import fc from 'fast-check';
import type { RecordFacts } from '../record/record';
import { hasBit } from '../column/bits';
import type { CodeColumn, Column, NumberColumn } from '../column/column';
import type { Population } from '../sweep/population';
import { populationOf, records } from '../sweep/sweep.fixture';
import { companyPopulation } from './company-population';
import { companyRecord } from './company-record';

const codeAt = ({ codes, dictionary, unreadable }: CodeColumn, at: number): unknown =>
  unreadable !== null && hasBit(unreadable, at) ? 'unreadable' : (dictionary[codes[at]! - 1] ?? null);
const numberAt = ({ values, unreadable }: NumberColumn, at: number): unknown =>
  unreadable !== null && hasBit(unreadable, at) ? 'unreadable' : values[at];

function valueAt(column: Column, at: number): unknown {
  switch (column.kind) {
    case 'codes':
      return codeAt(column, at);
    case 'numbers':
      return numberAt(column, at);
    case 'money':
      return [column.minor[at], column.entered[at], codeAt(column.currencies, at)];
  }
}

/** All that a population says of its records, however it lays it out. */
function said({ size, ids, arrived, closed, columns, events, standing }: Population): unknown[] {
  return Array.from({ length: size }, (_, at) => ({
    id: ids[at],
    times: [arrived[at], closed[at]],
    open: hasBit(standing.open, at),
    values: Object.fromEntries([...columns].map(([field, column]) => [field, valueAt(column, at)])),
    events: [...events]
      .map(([kind, { starts, at: all }]): [string, number[]] => [kind, [...all.subarray(starts[at], starts[at + 1])]])
      .filter(([, times]) => times.length > 0)
      .sort(([a], [b]) => (a < b ? -1 : 1)),
  }));
}

test('companies from columns are those from records: newest values, everything done, since the first came in', () => {
  fc.assert(
    fc.property(records, fc.infiniteStream(fc.integer({ min: 0, max: 4 })), (list, stream) => {
      const companyOf = Uint32Array.from(list, () => (stream.next().value as number) * 7);
      const byCompany = new Map<number, RecordFacts[]>();
      list.forEach(({ record }, i) => {
        const id = companyOf[i]!;
        if (id !== 0) byCompany.set(id, [...(byCompany.get(id) ?? []), record]);
      });
      const companies = [...byCompany]
        .sort(([a], [b]) => a - b)
        .map(([id, leads]) => ({ record: companyRecord(String(id), leads), closed: null, touched: 0 }));
      const leads = populationOf(list);
      expect(said(companyPopulation(leads, companyOf))).toEqual(said(populationOf(companies)));
    }),
    { numRuns: 200 },
  );
});
