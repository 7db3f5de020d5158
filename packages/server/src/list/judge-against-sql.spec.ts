import {
  bindCondition,
  type Condition,
  dayOf,
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
import {
  condition,
  didIn,
  factsOf,
  FIELDS,
  rawRecord,
  SCOPE,
  TODAY,
} from '../../../core/src/condition/conditions.fixture';
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
  columns.push('worth_minor BIGINT', 'arrived_day DATE NOT NULL', 'last_day DATE', 'way VARCHAR(8)');
  await database.query(`CREATE TABLE judged (id INT PRIMARY KEY, ${columns.join(', ')}) DEFAULT CHARSET utf8mb4`);
  await database.query(
    'CREATE TABLE judged_activity (record INT NOT NULL, kind VARCHAR(20) NOT NULL, minutes INT NOT NULL, page VARCHAR(20)) DEFAULT CHARSET utf8mb4',
  );
});
beforeAll(() =>
  database.query(
    'CREATE TABLE judged_choice (record INT, field VARCHAR(20), picked VARCHAR(50) COLLATE utf8mb4_nopad_bin, PRIMARY KEY (record, field, picked)) DEFAULT CHARSET utf8mb4',
  ),
);
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
    // One row for each option, in a table of their own.
    case 'choices':
      return ['read', null, null, null];
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
  const other = otherThanField(part);
  if (other !== null) return other;
  const field = fieldOf(part);
  if (part.test === 'blank') return { sql: `(${field}_state = 'blank')`, values: [] };
  const { sql, values } = leafOf(part);
  return { sql: `(CASE ${field}_state WHEN 'blank' THEN FALSE WHEN 'unreadable' THEN NULL ELSE ${sql} END)`, values };
}

/** Tests of what is no field of the record; null: it is one. */
function otherThanField(test: Test): { sql: string; values: unknown[] } | null {
  const { subject } = test;
  const column = columnOf(subject);
  if (column === null) return null;
  if (test.test === 'blank') return { sql: `(${column.sql} IS NULL)`, values: column.values };
  if (test.test === 'one-of')
    return {
      sql: `COALESCE(${column.sql} IN (${test.values.map(() => '?').join(', ')}), FALSE)`,
      values: [...column.values, ...test.values],
    };
  if (test.test !== 'range') throw new Error(`${subject.kind} takes no ${test.test}`);
  const ends = [
    ...(test.from ? [{ sql: test.from.included ? '>=' : '>', at: test.from.at }] : []),
    ...(test.to ? [{ sql: test.to.included ? '<=' : '<', at: test.to.at }] : []),
  ];
  return {
    sql: `COALESCE(${ends.map((end) => `${column.sql} ${end.sql} ?`).join(' AND ')}, FALSE)`,
    values: ends.flatMap((end) => [...column.values, end.at]),
  };
}

function columnOf(subject: Test['subject']): { sql: string; values: unknown[] } | null {
  switch (subject.kind) {
    case 'arrived':
      return { sql: 'arrived_day', values: [] };
    case 'last-activity':
      return { sql: 'last_day', values: [] };
    case 'way-in':
      return { sql: 'way', values: [] };
    case 'days-since': {
      if (subject.day.kind === 'field') return null;
      const column = subject.day.kind === 'arrived' ? 'arrived_day' : 'last_day';
      return { sql: `DATEDIFF('${TODAY}', ${column})`, values: [] };
    }
    case 'happened': {
      const parts = subject.having.flatMap(({ values }) => values.map((value) => `%${value.toLowerCase()}%`));
      const pages = parts.length === 0 ? '' : ` AND (${parts.map(() => 'a.page LIKE ?').join(' OR ')})`;
      const window = subject.within === null ? '' : ` AND a.minutes < ${subject.within * 24 * 60}`;
      return {
        sql: `(SELECT COUNT(*) FROM judged_activity a WHERE a.record = judged.id AND a.kind = ? AND a.minutes >= 0${window}${pages})`,
        values: [subject.activity, ...parts],
      };
    }
    default:
      return null;
  }
}

function fieldOf({ subject }: Test): string {
  if (subject.kind === 'field' || subject.kind === 'currency' || subject.kind === 'amount') return subject.field;
  if (subject.kind === 'days-since' && subject.day.kind === 'field') return subject.day.field;
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
  const chosen = (what: string): string =>
    `(SELECT ${what} FROM judged_choice c WHERE c.record = judged.id AND c.field = '${field}' AND c.picked IN (?))`;
  const decimal = (unit: number): string => `CAST(? AS DECIMAL(20, 6)) * ${unit}`;
  const asked =
    test.subject.kind === 'amount'
      ? { column: `${field}_minor`, at: decimal(100) }
      : test.subject.kind === 'days-since'
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
    case 'any-of':
      return { sql: `EXISTS ${chosen('1')}`, values: [test.values.map(fold)] };
    case 'all-of': {
      const distinct = [...new Set(test.values.map(fold))];
      return { sql: `${chosen('COUNT(*)')} = ${distinct.length}`, values: [distinct] };
    }
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
  const zone = 'Europe/Oslo';
  const rows = read.map((values, id) => {
    const raw = records[id]!;
    const { arrived, lastActivity, way } = factsOf(raw);
    const worth = values.get('worth');
    const last = lastActivity();
    return [
      id,
      ...[...values.values()].flatMap(columnsOf),
      worth?.kind === 'money' ? worth.minor : null,
      dayOf(arrived, zone),
      last === null ? null : dayOf(last, zone),
      way,
    ];
  });
  const did = records.flatMap((raw, id) => didIn(raw).map(({ kind, minutes, page }) => [id, kind, minutes, page]));
  await database.query('INSERT INTO judged_activity VALUES ?', [did]);
  const picked = read.flatMap((values, id) =>
    [...values].flatMap(([field, value]) =>
      value.kind === 'choices' ? value.texts.map((text) => [id, field, fold(text)]) : [],
    ),
  );
  await database.query('INSERT INTO judged_choice VALUES ?', [picked]);
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
