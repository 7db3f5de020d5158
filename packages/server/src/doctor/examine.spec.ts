import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { examine } from './examine';
import { nightly } from './nightly';

let server: SmallServer;
let admin: Agent;
beforeAll(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterAll(() => server.stop());

const run = (sql: string, ...values: unknown[]) => server.source.query<unknown>(sql, values);

test('what each fault leaves is found, mended, and gone on the next round; what a person must decide stays named', async () => {
  const ids: number[] = [];
  for (let i = 0; i < 6; i += 1)
    ids.push(
      (
        (
          await admin
            .post('/api/leads')
            .send({ values: { email: `d${i}@d.example`, industry: 'Brewery', country: 'NO' } })
        ).body as { id: number }
      ).id,
    );
  expect(await examine(server.source, server.now, false)).toEqual([]);

  await run('UPDATE rep_load SET open = open + 3');
  await run("UPDATE `lead` SET owner = NULL WHERE id = ? AND place = 'owner'", ids[0]);
  await run('UPDATE `lead` SET open_for = NULL WHERE id = ?', ids[1]);
  await run(
    'UPDATE `lead` one JOIN `lead` other ON other.id = ? SET one.open_for = NULL, one.contact = other.contact WHERE one.id = ?',
    ids[3],
    ids[2],
  );
  await run('DELETE FROM decision WHERE record = ?', ids[4]);
  await run("INSERT INTO record (id, kind, created_at) VALUES (9001, 'lead', NOW()), (9002, 'company', NOW())");
  await run("INSERT INTO field_value (record, field, kind, shown) VALUES (9001, 'note', 'text', 'left')");
  await run("INSERT INTO activity (record, kind, at) VALUES (9001, 'mail_opened', NOW())");
  await run("INSERT INTO side_score VALUES (9001, 'x', 1, 1, 2)");
  await run(
    "INSERT INTO decision (record, charter, as_of, occasion, stage, format, body) VALUES (9001, 1, NOW(), 'created', 'new', 1, COMPRESS('{}'))",
  );
  await run('DELETE FROM record WHERE id = ?', ids[5]);

  const found = await examine(server.source, server.now, false);
  expect(found.map(({ check }) => check)).toEqual([
    'no-place',
    'wrong-load',
    'two-open',
    'open-for',
    'undecided',
    'records',
    'unrecorded',
    'orphans-field_value',
    'orphans-activity',
    'orphans-decision',
    'orphans-side_score',
  ]);
  const mended = await examine(server.source, server.now, true);
  expect(mended.filter((one) => !one.mended).map(({ check, some }) => [check, some])).toEqual([
    ['two-open', [String(ids[3])]],
    ['undecided', [String(ids[4])]],
  ]);
  expect((await examine(server.source, server.now, true)).map(({ check }) => check)).toEqual(['two-open', 'undecided']);
  // Nobody knows whose it was: it stands where leads go that no route takes, and says so.
  const detail = (await admin.get(`/api/leads/${ids[0]}`)).body as { place: object; history: object[] };
  expect([detail.place, detail.history[0]]).toMatchObject([
    { kind: 'queue', queue: 'operations' },
    { reason: 'it had no place', cause: 'relvik' },
  ]);
});

test('the doctor makes one round a night, and the page says what it found', async () => {
  const reports = async () => ((await run('SELECT COUNT(*) AS n FROM doctor_report')) as [{ n: string }])[0].n;
  server.now = new Date('2026-03-03T01:30:00Z'); // half past two in Oslo
  await nightly(server.source, server.now);
  expect(Number(await reports())).toBe(1);
  await nightly(server.source, server.now);
  server.now = new Date('2026-03-03T02:10:00Z');
  await nightly(server.source, server.now);
  await nightly(server.source, server.now);
  expect(Number(await reports())).toBe(2);
  expect((await (await server.as('admin')).get('/api/background')).body).toMatchObject({
    doctor: { at: server.now.getTime(), findings: [{ check: 'two-open', mended: false }, { check: 'undecided' }] },
  });
});
