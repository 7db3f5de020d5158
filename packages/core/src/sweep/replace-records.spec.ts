import fc from 'fast-check';
import { encodePopulation, type PopulationRecord } from './encode';
import type { Population } from './population';
import { replaceRecords } from './replace-records';
import { records } from './rows.fixture';
import { WORLD } from './sweep.fixture';

const encode = (list: readonly PopulationRecord[]): Population => encodePopulation(list, WORLD.fields);

/** Without indexes; kinds and gates in the order of their names. */
const plain = ({ columns, events, standing, ...rest }: Population) => ({
  ...rest,
  columns: [...columns].map(([key, column]) =>
    column.kind === 'money'
      ? [
          key,
          column.minor,
          column.entered,
          column.currencies.unreadable,
          column.currencies.codes,
          column.currencies.dictionary,
        ]
      : column.kind === 'codes'
        ? [key, column.codes, column.dictionary, column.unreadable]
        : [key, column.values, column.unreadable],
  ),
  events: new Map([...events].sort(([a], [b]) => (a < b ? -1 : 1))),
  standing: { ...standing, looks: new Map([...standing.looks].sort(([a], [b]) => (a < b ? -1 : 1))) },
});

test('records replaced, added and taken out make the population that all of them make anew', () => {
  fc.assert(
    fc.property(records, records, fc.array(fc.constantFrom('kept', 'changed', 'gone', 'new')), (old, other, fates) => {
      const fateOf = (id: number) => fates[id % Math.max(1, fates.length)] ?? 'kept';
      const before: PopulationRecord[] = [];
      const after: PopulationRecord[] = [];
      const changed = new Set<number>();
      for (const [i, one] of old.entries()) {
        const id = Number(one.record.id);
        const fate = fateOf(i);
        const now = other[i] ?? one;
        if (fate !== 'new') before.push(one);
        if (fate !== 'gone') after.push(fate === 'kept' ? one : now);
        if (fate !== 'kept') changed.add(id);
      }
      const part = encode(after.filter(({ record }) => changed.has(Number(record.id))));
      expect(plain(replaceRecords(encode(before), changed, part))).toEqual(plain(encode(after)));
    }),
    { numRuns: 150 },
  );
});
