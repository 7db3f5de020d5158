import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { FailureEntity } from '../store/entity/failure.entity';
import { NoticeEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { deliver } from '../outbox/deliver';
import { passTime } from './pass-time';
import { finishRescores } from './rescore';
import { Runner, type Work } from './runner';

const MINUTE = 60_000;
let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (email: string): Promise<number> =>
  (
    (await admin.post('/api/leads').send({ values: { email, industry: 'Brewery', country: 'NO' } })).body as {
      id: number;
    }
  ).id;
const later = (minutes: number) => (server.now = new Date(server.now.getTime() + minutes * MINUTE));
/** Stands for whatever a record may break: its scores can't be written. */
const breakLead = (id: number) =>
  server.source.query(
    `CREATE TRIGGER break_one BEFORE UPDATE ON \`lead\` FOR EACH ROW IF NEW.id = ${id} THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'broken'; END IF`,
  );
const mend = () => server.source.query('DROP TRIGGER break_one');
const failures = () => server.source.manager.find(FailureEntity);
const dueAll = () => server.source.manager.update(LeadEntity, { status: 'open' }, { changesAt: server.now });
const undecided = () => server.source.manager.countBy(LeadEntity, { status: 'open', changesAt: server.now });

test('one record that throws stops no other: it is tried again with growing pauses, parked, and forgotten once it works', async () => {
  const ids = [await bring('a@i.example'), await bring('b@i.example'), await bring('c@i.example')];
  later(1);
  await dueAll();
  await breakLead(ids[1]!);
  expect(await passTime(server.source, server.now)).toBe(2);
  expect(await undecided()).toBe(1);
  expect(await failures()).toMatchObject([{ work: 'time', record: ids[1], tries: 1, error: 'broken', parked: false }]);
  // Not again before its pause is over.
  await passTime(server.source, server.now);
  expect(await failures()).toMatchObject([{ tries: 1 }]);
  for (const minutes of [2, 6, 28, 138]) {
    later(minutes);
    await passTime(server.source, server.now);
  }
  expect(await failures()).toMatchObject([{ tries: 5, parked: true }]);
  await server.source.query("UPDATE failure SET parked = 0 WHERE work = 'time'");
  await mend();
  await passTime(server.source, server.now);
  expect(await failures()).toEqual([]);
});

test('a rescore leaves out the record on which it fails, says so, and comes to its end', async () => {
  const ids = [await bring('d@i.example'), await bring('e@i.example'), await bring('f@i.example')];
  const { drafts } = (await admin.post('/api/drafts').send({ name: 'Other' })).body as {
    drafts: { id: number }[];
  };
  const id = drafts[0]!.id;
  await breakLead(ids[0]!);
  server.background.idle = true;
  await admin.post(`/api/drafts/${id}/enact`).send({ version: 1, reason: 'try' }).expect(202);
  await finishRescores(server.source, () => server.now);
  expect((await admin.get('/api/jobs/latest')).body).toMatchObject({ state: 'done', done: 3, failed: 1 });
  expect(await failures()).toMatchObject([{ work: 'rescore', record: ids[0], error: 'broken' }]);
  expect((await server.source.manager.find(LeadEntity)).map(({ charter }) => charter)).toEqual([1, 2, 2]);
});

test('a notice that can’t be told is tried again and parked, seen by the admin, and sent again by hand; others are told', async () => {
  await bring('g@i.example');
  await bring('h@i.example');
  const [first] = await server.source.manager.find(OutboxEntity);
  await server.source.query(
    `CREATE TRIGGER break_one BEFORE INSERT ON notice FOR EACH ROW IF NEW.outbox = ${first!.id} THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'no ink'; END IF`,
  );
  for (const minutes of [0, 2, 6, 28, 138]) {
    later(minutes);
    await deliver(server.source, server.now);
  }
  expect(await server.source.manager.find(OutboxEntity, { order: { id: 'ASC' } })).toMatchObject([
    { state: 'parked', tries: 5, error: 'no ink' },
    { state: 'done' },
  ]);
  expect((await admin.get('/api/background')).body).toMatchObject({
    outbox: { waiting: 0, parked: [{ id: first!.id, error: 'no ink', tries: 5 }] },
  });
  await mend();
  await admin.post(`/api/outbox/${first!.id}/again`).expect(200);
  await deliver(server.source, server.now);
  expect(await server.source.manager.count(NoticeEntity)).toBe(2);
});

test('works are apart: one that fails holds up none, and is tried again with growing pauses', async () => {
  const ran: string[] = [];
  const broken = { on: true };
  const work = (name: string): Work => ({
    name,
    lane: 'long',
    every: 10 * MINUTE,
    woken: true,
    run() {
      ran.push(name);
      return name === 'bad' && broken.on ? Promise.reject(new Error('bad work')) : Promise.resolve();
    },
  });
  const said: string[] = [];
  const runner = new Runner(
    server.source,
    [work('bad'), work('good')],
    () => server.now,
    (why) => said.push(why),
  );
  await runner.tick();
  expect([ran, said]).toEqual([['bad', 'good'], ['bad: bad work']]);
  expect(await failures()).toMatchObject([{ work: 'bad', record: 0, tries: 1 }]);
  runner.wake();
  await runner.tick();
  // Woken, the good one runs; the bad one keeps its pause.
  expect(ran).toEqual(['bad', 'good', 'good']);
  broken.on = false;
  server.now = new Date(server.now.getTime() + 1500);
  await runner.tick();
  expect(ran).toEqual(['bad', 'good', 'good', 'bad']);
  expect(await failures()).toEqual([]);
});
