import { readValue, type Value } from '@relvik/core';
import fc from 'fast-check';
import { FIELDS, rawRecord } from '../../../core/src/condition/conditions.fixture';
import { rowOf, valueOf } from './value-row';

test('whatever a field holds is read back from its row as it was', () => {
  fc.assert(
    fc.property(rawRecord, fc.string({ maxLength: 400 }), (raw, note) => {
      const read = new Map(
        [...FIELDS].map(([key, field]): [string, Value] => [key, readValue(field, raw[key] ?? null, '2026-03-01')]),
      );
      read.set(
        'words',
        readValue({ key: 'words', name: 'Words', type: 'text', options: [], retired: false }, note, '2026-03-01'),
      );
      for (const [field, value] of read) {
        if (value.kind === 'blank') continue;
        const row = rowOf(7, field, value);
        expect(row).toMatchObject({ record: 7, field });
        expect((row.folded ?? '').length).toBeLessThanOrEqual(190);
        expect(valueOf(row)).toEqual(value);
      }
    }),
  );
});
