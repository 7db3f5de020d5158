import fc from 'fast-check';
import { KINDS } from '../charter/charter.fixture';
import { gradeRecord } from '../decide/grade-record';
import type { RecordFacts } from '../record/record';
import type { PopulationRecord } from '../sweep/encode';
import { Resident } from '../sweep/resident';
import { Sweep } from '../sweep/sweep';
import { hasBit } from '../column/bits';
import type { CodeColumn, Column, NumberColumn } from '../column/column';
import type { Population } from '../sweep/population';
import { AS_OF, charter, populationOf, RATES, records, WORLD } from '../sweep/sweep.fixture';
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

/** The companies of these leads, each put together by itself; 0: of none. */
function companiesOf(list: readonly PopulationRecord[], companyOf: Uint32Array): PopulationRecord[] {
  const byCompany = new Map<number, RecordFacts[]>();
  list.forEach(({ record }, i) => {
    const id = companyOf[i]!;
    if (id !== 0) byCompany.set(id, [...(byCompany.get(id) ?? []), record]);
  });
  return [...byCompany]
    .sort(([a], [b]) => a - b)
    .map(([id, leads]) => ({ record: companyRecord(String(id), leads), closed: null, touched: 0 }));
}

test('companies from columns are those from records: newest values, everything done, since the first came in', () => {
  fc.assert(
    fc.property(records, fc.infiniteStream(fc.integer({ min: 0, max: 4 })), (list, stream) => {
      const companyOf = Uint32Array.from(list, () => (stream.next().value as number) * 7);
      const companies = companiesOf(list, companyOf);
      const leads = populationOf(list);
      expect(said(companyPopulation(leads, companyOf))).toEqual(said(populationOf(companies)));
    }),
    { numRuns: 200 },
  );
});

test('a sweep over companies grades each as it is graded alone: by the sets for companies, and it stands in no stage', () => {
  let graded = 0;
  fc.assert(
    fc.property(charter, records, fc.infiniteStream(fc.integer({ min: 0, max: 9 })), (ready, list, stream) => {
      const { lead, company } = ready.rules;
      const rules = {
        ...ready.rules,
        lead: { ...lead, scoreSets: [] },
        company: { ...company, scoreSets: lead.scoreSets },
      };
      const companyOf = Uint32Array.from(list, () => stream.next().value as number);
      const population = companyPopulation(populationOf(list), companyOf);
      const around = { kinds: KINDS, rates: RATES, teams: WORLD.teams };
      const resident = new Resident(population, AS_OF, ready.charter, around);
      const swept = new Sweep(resident, { kind: 'came-in' }).run({ ...ready, rules });
      expect([swept.stages, swept.routes]).toEqual([[], []]);
      companiesOf(list, companyOf).forEach(({ record }, i) => {
        const { score, grade } = gradeRecord({ ...ready, rules }, record, WORLD, AS_OF);
        const cell = swept.grades[swept.scores.cell[i]! - 1];
        const bandOf = (axis: 'fit' | 'engagement') => cell && cell.set.grid[axis].bands[cell[axis]]?.key;
        expect([i, cell?.set.key ?? null, bandOf('fit'), bandOf('engagement')]).toEqual([
          i,
          grade === null ? null : score.set,
          grade?.bands.fit,
          grade?.bands.engagement,
        ]);
        if (grade !== null) graded += 1;
      });
    }),
    { numRuns: 60 },
  );
  expect(graded).toBeGreaterThan(50);
});
