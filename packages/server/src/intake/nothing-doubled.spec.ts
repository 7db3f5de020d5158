import { setTimeout as pause } from 'node:timers/promises';
import type { Accepted } from '@relvik/contracts';
import { type DataSource, IsNull, Not } from 'typeorm';
import { SmallServer } from '../fixture/small-server.fixture';
import { LosingProxy } from '../fixture/losing-proxy.fixture';
import { describeDatabase } from '../store/open-database';
import { testAccess } from '../fixture/test-database.fixture';
import { ActivityEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { acceptActivities } from '../act/accept-activities';
import { editLead } from '../act/edit-lead';
import { IntakeWriter } from './intake-writer';
import type { Inquiry } from '../act/accept-leads';

let server: SmallServer;
let proxy: LosingProxy;
let far: DataSource;
beforeAll(async () => {
  server = await SmallServer.start();
  const { socketPath, ...access } = testAccess() as Extract<ReturnType<typeof testAccess>, { socketPath: string }>;
  await server.source.query("CREATE OR REPLACE USER through@'127.0.0.1' IDENTIFIED BY 'proxy'");
  await server.source.query("CREATE OR REPLACE USER through@localhost IDENTIFIED BY 'proxy'");
  await server.source.query(`GRANT ALL ON \`relvik_test%\`.* TO through@localhost`);
  proxy = await LosingProxy.start(socketPath);
  far = await describeDatabase({
    ...access,
    user: 'through',
    password: 'proxy',
    host: '127.0.0.1',
    port: proxy.port,
  }).initialize();
});
afterAll(async () => {
  await far.destroy();
  await proxy.stop();
  await server.stop();
});

const inquiry = (email: string, values: Inquiry['values'] = {}): Inquiry => ({
  cause: { kind: 'form' as const, name: 'test' },
  at: server.now,
  values: { email, industry: 'Brewery', country: 'NO', ...values },
  owner: null,
  trusted: true,
});
const count = () => server.source.manager.count(LeadEntity);

test('the same new e-mail at two servers at once is one lead, and both answers name it', async () => {
  const writers = [new IntakeWriter(server.source), new IntakeWriter(server.source)];
  for (let i = 0; i < 25; i += 1) {
    const [one, two] = await Promise.all(writers.map((writer) => writer.accept(inquiry(`same${i}@n.example`))));
    expect([one?.id, [one?.joined, two?.joined].sort()]).toEqual([two?.id, [false, true]]);
    expect(await server.source.manager.countBy(LeadEntity, { id: one?.id ?? 0 })).toBe(1);
  }
});

test('an e-mail that comes in while a lead is edited to it overwrites nobody', async () => {
  const writer = new IntakeWriter(server.source);
  const outcomes = { edited: 0, refused: 0 };
  for (let i = 0; i < 40; i += 1) {
    const old = await writer.accept(inquiry(`x${i}@n.example`, { name: 'Xenia Old', company: 'Old Mill' }));
    const { version } = await server.source.manager.findOneByOrFail(LeadEntity, { id: old.id });
    const hand = { user: { key: 'admin', name: 'Test', role: 'admin' as const }, at: server.now };
    // Each time a little later, so that now the one is first and now the other.
    const [edit, came] = await Promise.allSettled([
      pause(i).then(() => editLead(server.source, old.id, { version, values: { email: `n${i}@n.example` } }, hand)),
      pause(20).then(() => writer.accept(inquiry(`n${i}@n.example`, { name: 'Nora New', company: 'New Mill' }))),
    ]);
    const accepted = (came as PromiseFulfilledResult<Accepted>).value;
    const lead = await server.source.manager.findOneByOrFail(LeadEntity, { id: old.id });
    const open = await server.source.manager.findBy(LeadEntity, { email: `n${i}@n.example`, openFor: Not(IsNull()) });
    expect(open.map(({ id }) => id)).toEqual([accepted.id]);
    if (edit.status === 'fulfilled') {
      outcomes.edited += 1;
      expect(accepted).toMatchObject({ id: old.id, joined: true });
    } else {
      outcomes.refused += 1;
      expect(edit.reason).toMatchObject({ problem: { status: 409, other: accepted.id } });
      expect(lead).toMatchObject({ name: 'Xenia Old', company: 'Old Mill', email: `x${i}@n.example`, version });
    }
  }
  expect(outcomes.edited).toBeGreaterThan(0);
  expect(outcomes.refused).toBeGreaterThan(0);
});

test('a batch whose COMMIT reply is lost is stored once and answered as stored; so is a single one', async () => {
  const writer = new IntakeWriter(far);
  const before = await count();
  proxy.toLose = 1;
  const accepted = await Promise.all(
    Array.from({ length: 30 }, (_, i) => writer.accept(inquiry('', { name: `Batch ${i}` }))),
  );
  expect([proxy.lost, await count(), new Set(accepted.map(({ id }) => id)).size]).toEqual([1, before + 30, 30]);

  proxy.toLose = 1;
  const single = await writer.accept(inquiry('single@n.example'));
  expect([proxy.lost, await count(), single.joined]).toEqual([2, before + 31, false]);
  expect(await server.source.manager.countBy(ActivityEntity, { record: single.id })).toBe(1);
});

test('activities without ids of their own are stored once when the COMMIT reply is lost, and once when a caller repeats itself', async () => {
  const { id } = await new IntakeWriter(server.source).accept(inquiry('acts@n.example'));
  const before = await server.source.manager.countBy(ActivityEntity, { record: id });
  const sending = {
    sender: 'key 1',
    cause: { kind: 'api' as const, name: 'test' },
    activities: [{ kind: 'mail_opened', lead: id }],
    at: server.now,
  };
  const lost = proxy.lost;
  proxy.toLose = 1;
  expect(await acceptActivities(far, sending)).toMatchObject({ accepted: 1 });
  expect([proxy.lost, await server.source.manager.countBy(ActivityEntity, { record: id })]).toEqual([
    lost + 1,
    before + 1,
  ]);
  const mark = { sender: 'key 1 acts', request: 'twice', body: 'a'.repeat(64) };
  await acceptActivities(server.source, { ...sending, mark });
  await acceptActivities(server.source, { ...sending, mark });
  expect(await server.source.manager.countBy(ActivityEntity, { record: id })).toBe(before + 2);
});

test('inquiries of people who are known do not make batches wait for each other', async () => {
  const writer = new IntakeWriter(server.source);
  const known = await Promise.all(Array.from({ length: 12 }, (_, i) => writer.accept(inquiry(`known${i}@n.example`))));
  // A batch that waits for a row of one that waits for it would stand still for 10 s, each time, until the test's time is up.
  for (let round = 0; round < 6; round += 1) {
    const again = await Promise.all(
      Array.from({ length: 48 }, (_, i) => writer.accept(inquiry(`known${(i * 7) % 12}@n.example`))),
    );
    expect(again.every(({ id, joined }) => joined && known.some((one) => one.id === id))).toBe(true);
  }
}, 58_000);
