import {
  bindCondition,
  type Condition,
  fold,
  judge,
  NUMBER_DECIMALS,
  type Problem,
  Rates,
  readValue,
  Spot,
  type Test,
  type Value,
} from '@relvik/core';
import fc from 'fast-check';
import type { DataSource } from 'typeorm';
import { condition, factsOf, FIELDS, rawRecord, SCOPE, TODAY } from '../../../core/src/condition/conditions.fixture';
import { testDatabase } from '../fixture/test-database.fixture';

// Outside judge: the same condition as SQL on MariaDB, whose three-valued logic is NULL for "unjudged". Text is compared in
// columns folded by core with a binary, no-pad collation.

const BASE = 'EUR';
const rates = new Rates([{ currency: 'NOK', from: '2026-01-01', micro: 85_000 }], 'EUR');
let database: DataSource;

beforeAll(async () => {
  database = await testDatabase();
  const columns = [...FIELDS.keys()].flatMap((key) => [
    `${key}_state ENUM('blank', 'read', 'unreadable') NOT NULL`,
    `${key}_text VARCHAR(200) COLLATE utf8mb4_nopad_bin`,
    `${key}_number BIGINT`,
    `${key}_currency CHAR(3)`,
  ]);
  await database.query(`CREATE TABLE judged (id INT PRIMARY KEY, ${columns.join(', ')}) DEFAULT CHARSET utf8mb4`);
});
afterAll(() => database.destroy());

function columnsOf(value: Value): (string | number | null)[] {
  switch (value.kind) {
    case 'blank':
      return ['blank', null, null, null];
    case 'unreadable':
      return ['unreadable', null, null, null];
    case 'text':
      return ['read', value.folded, null, null];
    case 'number':
      return ['read', null, value.scaled, null];
    case 'money':
      return ['read', null, rates.toBase(value, BASE), value.currency];
    case 'yes-no':
      return ['read', null, value.yes ? 1 : 0, null];
    case 'date':
      return ['read', value.day, null, null];
  }
}

/** A condition as SQL, written from its JSON and not from what core made of it. */
function sqlOf(part: Condition): { sql: string; values: unknown[] } {
  if (part.test === 'not') {
    const { sql, values } = sqlOf(part.of);
    return { sql: `(NOT ${sql})`, values };
  }
  if ('of' in part) {
    const parts = part.of.map(sqlOf);
    if (parts.length === 0) return { sql: part.test === 'all' ? 'TRUE' : 'FALSE', values: [] };
    return {
      sql: `(${parts.map((p) => p.sql).join(part.test === 'all' ? ' AND ' : ' OR ')})`,
      values: parts.flatMap((p) => p.values),
    };
  }
  const field = fieldOf(part);
  if (part.test === 'blank') return { sql: `(${field}_state = 'blank')`, values: [] };
  const { sql, values } = leafOf(part);
  return { sql: `(CASE ${field}_state WHEN 'blank' THEN FALSE WHEN 'unreadable' THEN NULL ELSE ${sql} END)`, values };
}

function fieldOf({ subject }: Test): string {
  if (subject.kind === 'field' || subject.kind === 'currency') return subject.field;
  if (subject.kind === 'days-since') return subject.day.field;
  throw new Error(`${subject.kind} is no subject of these records`);
}

const LANDS: Readonly<Record<string, string>> = { norway: 'no', usa: 'us', sweden: 'se' };

function leafOf(test: Test): { sql: string; values: unknown[] } {
  const field = fieldOf(test);
  const type = FIELDS.get(field)?.type;
  const text = (value: string): string => (type === 'country' ? (LANDS[fold(value)] ?? fold(value)) : fold(value));
  const like = (value: string): string => fold(value).replace(/[\\%_]/g, '\\$&');
  const anyLike = (pattern: (value: string) => string, list: readonly string[]) => ({
    sql: `(${list.map(() => `${field}_text LIKE ?`).join(' OR ')})`,
    values: list.map(pattern),
  });
  // As DECIMAL: text times a number would be a double, and miss exact bounds.
  const decimal = (unit: number): string => `CAST(? AS DECIMAL(20, 6)) * ${unit}`;
  const asked =
    test.subject.kind === 'days-since'
      ? { column: `DATEDIFF('${TODAY}', ${field}_text)`, at: decimal(1) }
      : type === 'date'
        ? { column: `${field}_text`, at: '?' }
        : { column: `${field}_number`, at: decimal(type === 'money' ? 100 : 10 ** NUMBER_DECIMALS) };
  switch (test.test) {
    // Of fields nothing lies inside another: only territories do, and none is stored here.
    case 'inside':
    case 'one-of':
      if (test.subject.kind === 'currency')
        return {
          sql: `${field}_currency IN (${test.values.map(() => '?').join(', ')})`,
          values: test.values.map((code) => code.toUpperCase()),
        };
      if (type === 'yes-no') return { sql: `${field}_number = ?`, values: [test.values[0] === 'yes' ? 1 : 0] };
      if (type === 'number' || type === 'date')
        return { sql: `${asked.column} = ${asked.at}`, values: [test.values[0]] };
      return { sql: `${field}_text IN (${test.values.map(() => '?').join(', ')})`, values: test.values.map(text) };
    case 'contains':
      return anyLike((value) => `%${like(value)}%`, test.values);
    case 'starts-with':
      return anyLike((value) => `${like(value)}%`, test.values);
    case 'ends-with':
      return anyLike((value) => `%${like(value)}`, test.values);
    case 'range': {
      const ends: { sql: string; value: string }[] = [];
      if (test.from)
        ends.push({ sql: `${asked.column} ${test.from.included ? '>=' : '>'} ${asked.at}`, value: test.from.at });
      if (test.to)
        ends.push({ sql: `${asked.column} ${test.to.included ? '<=' : '<'} ${asked.at}`, value: test.to.at });
      return { sql: `(${ends.map((end) => end.sql).join(' AND ')})`, values: ends.map((end) => end.value) };
    }
    case 'blank':
      throw new Error('Blanks are asked for before');
  }
}

test('judge answers as MariaDB does, over random conditions and records', async () => {
  const records = fc.sample(rawRecord, { numRuns: 400, seed: 11 });
  const read = records.map(
    (raw) =>
      new Map(
        [...FIELDS].map(([key, field]): [string, Value] => [key, readValue(field, raw[key] ?? null, '2026-03-01')]),
      ),
  );
  const rows = read.map((values, id) => [id, ...[...values.values()].flatMap(columnsOf)]);
  await database.query(
    `INSERT INTO judged VALUES ${rows.map((row) => `(${row.map(() => '?').join(', ')})`).join(', ')}`,
    rows.flat(),
  );
  const facts = records.map(factsOf);

  const seen = { yes: 0, no: 0, unjudged: 0 };
  await fc.assert(
    fc.asyncProperty(condition, async (test) => {
      const problems: Problem[] = [];
      const ready = bindCondition(test, SCOPE, Spot.root(problems));
      expect(problems).toEqual([]);
      const { sql, values } = sqlOf(test);
      const answers = await database.query<{ id: number; answer: string | number | null }[]>(
        `SELECT id, ${sql} AS answer FROM judged ORDER BY id`,
        values,
      );
      answers.forEach(({ id, answer }) => {
        const ours = judge(ready, facts[id]!);
        seen[ours] += 1;
        expect([id, ours]).toEqual([id, answer === null ? 'unjudged' : Number(answer) === 1 ? 'yes' : 'no']);
      });
    }),
    { numRuns: 400 },
  );
  // 160,000 judgements, and none of the three answers is rare.
  expect(Math.min(seen.yes, seen.no, seen.unjudged)).toBeGreaterThan(5000);
});
