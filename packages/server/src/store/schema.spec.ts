import { BY_RULE, type Gate, lookKey, type Problem, readCondition, Spot } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { NO_RANK } from './entity/scored.entity';
import { insertRow, testDatabase, undoMigrations } from '../fixture/test-database.fixture';

let database: DataSource;
beforeAll(async () => {
  database = await testDatabase();
});
afterAll(() => database.destroy());

/** The look of a gate that asks for nothing beside its condition, as all did before they could. */
const lookOf = (gate: Gate): string =>
  lookKey({ ...gate, requiredFields: [], minDays: 0, minHours: 0, decider: BY_RULE });

test('the migrations make exactly the schema that the entities describe', async () => {
  const { upQueries } = await database.driver.createSchemaBuilder().log();
  expect(upQueries.map((query) => query.query)).toEqual([]);
});

test('only one charter can be in force, and an e-mail can have one open lead', async () => {
  const charter = `INSERT INTO charter (in_force, base, name, body, version, author, changed_at) VALUES (1, 0, 'x', '{}', 1, 'x', NOW())`;
  await database.query(charter);
  await expect(database.query(charter)).rejects.toThrow(/charter_one_in_force/);
});

const undoThrough = (name: string): Promise<void> => undoMigrations(database, name);

test('scores beside get their rank, in hundredths; what can’t be judged stands last', async () => {
  await undoThrough('SideRanks');
  await database.query(
    "INSERT INTO side_score VALUES (1, 'extra', 0.1, 0.2), (2, 'extra', 12, -3), (3, 'extra', NULL, 4)",
  );
  await database.runMigrations();
  expect(await database.query('SELECT record, rank_order FROM side_score ORDER BY record')).toEqual([
    { record: 1, rank_order: 0.3 },
    { record: 2, rank_order: 9 },
    { record: 3, rank_order: NO_RANK },
  ]);
  await database.query('DELETE FROM side_score');
});

test('history that was kept as words is read into causes and values, and back', async () => {
  await undoThrough('OneWriter');
  const lines: [field: string, from: string | null, to: string | null, by: string][] = [
    ['employees', 'about 50', '50', 'Ada Lindqvist'],
    ['stage', 'new', 'qualified', 'charter 3, gate qualify'],
    ['place', null, 'owner:ada', 'charter 3'],
    ['place', 'owner:ada', 'bay:nobody-free', 'Relvik'],
    ['status', 'open', 'lost: too dear', 'Ada Lindqvist'],
    ['note', null, 'hello', 'form ask'],
  ];
  const columns = '(record, field, `from`, `to`, at, `by`)';
  await database.query(`INSERT INTO record_change ${columns} VALUES ?`, [
    lines.map(([field, from, to, by]) => [1, field, from, to, new Date('2026-03-01T09:00:00Z'), by]),
  ]);
  await database.runMigrations();
  const rows = await database.query<{ from: string | null; to: string | null }[]>(
    'SELECT field, `from`, `to`, reason, cause, `by`, charter, rule FROM record_change ORDER BY id',
  );
  expect(
    rows.map(({ from, to, ...row }) => ({
      ...row,
      from: from === null ? null : (JSON.parse(from) as unknown),
      to: to === null ? null : (JSON.parse(to) as unknown),
    })),
  ).toMatchObject([
    {
      from: { kind: 'shown', text: 'about 50' },
      to: { kind: 'shown', text: '50' },
      cause: 'hand',
      by: 'Ada Lindqvist',
    },
    { from: 'new', to: 'qualified', cause: 'rule', charter: 3, rule: 'qualify', by: '' },
    { from: null, to: { kind: 'owner', rep: 'ada' }, cause: 'rule', charter: 3, rule: null },
    { from: { kind: 'owner', rep: 'ada' }, to: { kind: 'bay', reason: { why: 'nobody-free' } }, cause: 'relvik' },
    { from: 'open', to: 'lost', reason: 'too dear', cause: 'hand' },
    { from: null, to: { kind: 'shown', text: 'hello' }, cause: 'form', by: 'ask' },
  ]);
  await undoThrough('OneWriter');
  expect(await database.query('SELECT field, `from`, `to`, `by` FROM record_change ORDER BY id')).toEqual(
    lines.map(([field, from, to, by]) => ({ field, from, to, by })),
  );
  await database.runMigrations();
  await database.query('DELETE FROM record_change');
});

test('charters, leads and decisions of the time of one score set are carried over to several, and back', async () => {
  await database.query('DELETE FROM charter');
  const undoSets = (): Promise<void> => undoThrough('ScoreSets');
  await undoSets();
  const insert = (table: string, row: Record<string, unknown>): Promise<void> => insertRow(database, table, row);
  const at = '2026-03-01 09:00:00';
  const old = { format: 'relvik-charter', version: 1, scoreSet: { key: 'sensing', signals: [] }, gates: [] };
  const body = JSON.stringify(old);
  await insert('charter', { number: 7, base: 0, name: 'Old', body, version: 1, author: 'x', changed_at: at });
  const score = { fit: { judged: true, score: 5 }, signals: [], held: [] };
  const decision = {
    record: 1,
    charter: 7,
    as_of: at,
    occasion: 'created',
    stage: 'new',
    body: JSON.stringify({ score }),
  };
  await insert('decision', decision);
  await insert('lead', {
    ...{ id: 4, version: 1, name: 'Kari', company: 'Fjord BRYGG', status: 'open', stage: 'new', looks: '{}' },
    ...{ place: 'not-handed-over', rank_order: 5, way: 'api', charter: 7 },
    ...{ since: at, arrived: at, touched_at: at, decided_at: at },
  });
  const bodyOf = async (table: string): Promise<unknown> =>
    JSON.parse(
      (
        await database.query<{ body: string }[]>(
          `SELECT ${table === 'decision' ? 'CONVERT(UNCOMPRESS(body) USING utf8mb4)' : 'body'} AS body FROM ${table} ORDER BY id DESC LIMIT 1`,
        )
      )[0]!.body,
    );

  await database.runMigrations();
  expect(await bodyOf('charter')).toMatchObject({
    format: 'relvik-charter',
    version: 4,
    scoreSets: [{ key: 'sensing', signals: [], of: 'lead', on: true, when: { test: 'all', of: [] } }],
    gates: [],
  });
  expect(await bodyOf('decision')).toEqual({ score: { ...score, admitted: 'yes', set: 'sensing', beside: [] } });
  expect(await database.query('SELECT id, admitted, score_set FROM `lead`')).toEqual([
    { id: 4, admitted: 'yes', score_set: 'sensing' },
  ]);
  const companies =
    'SELECT r.kind, c.name, k.folded FROM company c JOIN record r ON r.id = c.id JOIN company_key k ON k.company = c.id JOIN `lead` l ON l.company_id = c.id';
  expect(await database.query(companies)).toEqual([{ kind: 'company', name: 'Fjord BRYGG', folded: 'fjord brygg' }]);
  await undoSets();
  expect(await bodyOf('charter')).toEqual(old);
  await database.runMigrations();
});

test('looks of gates are kept by stage and condition: what was true holds, what enacting used up acts again', async () => {
  await undoThrough('LooksOfGates');
  await database.query('DELETE FROM charter');
  const gates = [
    { key: 'qualify', from: 'new', on: true, when: { test: 'all', of: [] } },
    { key: 'return', from: 'qualified', on: true, when: { test: 'all', of: [] } },
  ];
  await database.query(
    'INSERT INTO charter (in_force, number, base, name, body, version, author, changed_at) VALUES (1, 9, 0, ?, ?, 1, ?, NOW())',
    ['Old', JSON.stringify({ gates }), 'x'],
  );
  const looks = async () =>
    (await database.query<{ looks: string }[]>('SELECT looks FROM `lead` WHERE id = 4'))[0]?.looks;
  await database.query('UPDATE `lead` SET looks = ? WHERE id = 4', ['{"qualify":true,"return":true}']);
  await database.runMigrations();
  expect(await looks()).toBe(JSON.stringify({ [lookOf(gates[0] as never)]: 'held' }));
  await undoThrough('LooksOfGates');
  expect(await looks()).toBe('{"qualify":true,"return":false}');
  await database.runMigrations();
  await database.query('DELETE FROM charter');
});

test('tests name a subject in place of a field; looks of gates stay what they were, both ways', async () => {
  await undoThrough('SubjectsOfConditions');
  await database.query('DELETE FROM charter');
  const gate = (when: object) => ({ key: 'qualify', from: 'new', on: true, when });
  const earlier = gate({
    test: 'all',
    of: [
      { test: 'is', field: 'verdict', value: 'hand-over' },
      { test: 'not', of: { test: 'days-ago', field: 'wanted', from: { at: '3', included: true }, to: null } },
      { test: 'currency', field: 'budget', values: ['NOK', 'SEK'] },
      { test: 'blank', field: 'fit_band' },
    ],
  });
  const having = [{ property: 'page', test: 'is', values: ['pricing'] }];
  await database.query(
    'INSERT INTO charter (in_force, number, base, name, body, version, author, changed_at) VALUES (1, 9, 0, ?, ?, 1, ?, NOW())',
    ['Old', JSON.stringify({ gates: [earlier], scoreSets: [{ signals: [{ having }] }] }), 'x'],
  );
  const of = async (table: string, column: string): Promise<Record<string, unknown>> => {
    const rows = await database.query<Record<string, string>[]>(`SELECT ${column} FROM ${table} ORDER BY id LIMIT 1`);
    return JSON.parse(rows[0]?.[column] ?? '{}') as Record<string, unknown>;
  };
  const looks = { [lookOf(earlier as never)]: 'true', 'other 0000': 'held' };
  await database.query('UPDATE `lead` SET looks = ?', [JSON.stringify(looks)]);
  const when = JSON.stringify({ test: 'range', field: 'rank', from: { at: '5', included: false }, to: null });
  await database.query('DELETE FROM saved_view');
  await database.query('INSERT INTO saved_view (person, name, shared, query) VALUES (?, ?, 0, ?)', [
    'x',
    'Hot',
    JSON.stringify({ when, order: 'fit' }),
  ]);

  await database.runMigrations();
  const body = (await of('charter', 'body')) as { gates: Gate[]; scoreSets: unknown };
  const problems: Problem[] = [];
  // The reader takes both forms: what is stored is what it makes of the earlier one, to the letter.
  const read = readCondition(earlier.when, Spot.root(problems));
  expect(JSON.stringify(body.gates[0]?.when)).toBe(JSON.stringify(read));
  expect(problems).toEqual([]);
  expect(body.scoreSets).toEqual([{ signals: [{ having }] }]);
  expect(await of('`lead`', 'looks')).toEqual({ [lookOf(body.gates[0]!)]: 'true', 'other 0000': 'held' });
  const view = (await of('saved_view', 'query')) as { when: string; order: string };
  expect(view.order).toBe('fit');
  expect(JSON.parse(view.when)).toMatchObject({ test: 'range', subject: { kind: 'score', axis: 'rank' } });

  await undoThrough('SubjectsOfConditions');
  expect(await of('charter', 'body')).toMatchObject({ gates: [earlier] });
  expect(await of('`lead`', 'looks')).toEqual(looks);
  expect(await of('saved_view', 'query')).toEqual({ when, order: 'fit' });
  await database.runMigrations();
  await database.query('DELETE FROM charter');
});

test('fields from before are kept, and tags are among them; undone, only what they can’t hold is gone, both ways', async () => {
  await undoThrough('SeveralAtOnce');
  await database.query('DELETE FROM field_value');
  await database.query("DELETE FROM field WHERE `key` = 'trade'");
  await database.query(
    "INSERT INTO field (`key`, name, type, options, retired, personal, position) VALUES ('trade', 'Trade', 'choice', '[\"Mill\"]', 0, 0, 1)",
  );
  const value = "INSERT INTO field_value (record, field, kind, shown, folded) VALUES (1, '%', '%', 'Mill', '%')";
  const put = (...texts: string[]) => database.query(texts.reduce((sql, text) => sql.replace('%', text), value));
  await put('trade', 'text', 'mill');
  await database.runMigrations();
  const fields = "SELECT `key`, type, retired_options FROM field WHERE `key` IN ('trade', 'tags') ORDER BY `key`";
  expect(await database.query(fields)).toEqual([
    { key: 'tags', type: 'choices', retired_options: '[]' },
    { key: 'trade', type: 'choice', retired_options: '[]' },
  ]);
  await put('tags', 'choices', ';mill;');
  await undoThrough('SeveralAtOnce');
  expect(await database.query('SELECT field, folded FROM field_value')).toEqual([{ field: 'trade', folded: 'mill' }]);
  await database.runMigrations();
});

test('verdicts and gates of before tell nobody and ask for no more than their condition; files of before are of leads; both ways', async () => {
  await undoMigrations(database, 'FilesOfKinds');
  const body = {
    verdicts: [{ key: 'decline', name: 'Decline' }],
    gates: [{ key: 'qualify', from: 'new', when: { test: 'all', of: [] } }],
  };
  await database.query(
    'INSERT INTO charter (name, body, version, author, changed_at, number, base) VALUES (?, ?, 1, ?, ?, 77, 0)',
    [...['Of before', JSON.stringify(body), 'x'], new Date('2026-03-02T09:00:00Z')],
  );
  await database.query(
    "INSERT INTO import_file (hash, name, state, `rows`, person, `by`, at) VALUES (REPEAT('a', 64), 'old.csv', 'done', 1, 'x', 'x', NOW(3))",
  );
  await database.query(
    "INSERT INTO import_row (file, row, state, `values`, lead, notes) SELECT MAX(id), 1, 'accepted', '{}', 9, '[]' FROM import_file",
  );
  const stored = async (): Promise<unknown> => {
    const [row] = await database.query<[{ body: string }]>('SELECT body FROM charter WHERE number = 77');
    return JSON.parse(row.body);
  };
  await database.runMigrations();
  expect(await stored()).toEqual({
    verdicts: [{ ...body.verdicts[0], notify: [] }],
    gates: [{ ...body.gates[0], requiredFields: [], minDays: 0, decider: BY_RULE, minHours: 0, effects: [] }],
  });
  const files = 'SELECT f.kind, r.record, r.ties FROM import_file f JOIN import_row r ON r.file = f.id';
  expect(await database.query(files)).toEqual([{ kind: 'lead', record: 9, ties: null }]);
  await undoMigrations(database, 'FilesOfKinds');
  expect(await stored()).toEqual(body);
  expect(await database.query('SELECT lead FROM import_row')).toEqual([{ lead: 9 }]);
  await database.runMigrations();
});
