import { SmallServer } from '../fixture/small-server.fixture';
import { JobEntity } from '../store/entity/charter.entity';
import { testAccess } from '../fixture/test-database.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { BackgroundThread } from './background-worker';

let server: SmallServer;
beforeEach(async () => {
  server = await SmallServer.start();
});
afterEach(() => server.stop());

async function until(holds: () => Promise<boolean>): Promise<void> {
  for (let tries = 0; tries < 200; tries += 1) {
    if (await holds()) return;
    await new Promise((resume) => setTimeout(resume, 50));
  }
  throw new Error('it never came to that');
}

test('a thread of its own carries on a rescore that a stop left undone, woken while it does, and after it died', async () => {
  const admin = await server.as('admin');
  for (let i = 0; i < 3; i += 1)
    await admin.post('/api/leads').send({ values: { email: `t${i}@t.example`, industry: 'Brewery' } });
  const { manager } = server.source;
  const said: string[] = [];
  const background = new BackgroundThread(testAccess(), (why) => said.push(why));
  const begun = async (): Promise<number> => {
    await manager.update(LeadEntity, { status: 'open' }, { charter: 0, fit: 1 });
    const { id } = await manager.save(JobEntity, {
      state: 'running',
      charter: 1,
      scope: { which: 'all' },
      reach: 'score',
      startedBy: 'x',
      starter: null,
      startedAt: server.now,
      endedAt: null,
      cursor: 0,
      done: 0,
      total: 3,
      changed: 0,
      failed: 0,
      error: null,
    });
    return id;
  };
  const fits = async (): Promise<(number | null)[]> => (await manager.find(LeadEntity)).map(({ fit }) => fit);
  const isDone = async (id: number): Promise<boolean> =>
    (await manager.findOneByOrFail(JobEntity, { id })).state === 'done';

  const first = await begun();
  background.wake();
  background.wake();
  await until(() => isDone(first));
  expect(await fits()).toEqual([60, 60, 60]);

  await background.stop();
  const second = await begun();
  background.wake();
  await until(() => isDone(second));
  expect(await fits()).toEqual([60, 60, 60]);
  expect(said).toEqual([]);
  await background.stop();
});

test('what fails in the thread is said, and a later wake tries again', async () => {
  const said: string[] = [];
  const background = new BackgroundThread({ ...testAccess(), database: 'relvik_nowhere' }, (why) => said.push(why));
  background.wake();
  await until(() => Promise.resolve(said.length > 0));
  expect(said[0]).toMatch(/relvik_nowhere/);
  await until(() => {
    background.wake();
    return Promise.resolve(said.length > 1);
  });
  await background.stop();
});
