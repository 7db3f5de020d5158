import type { Charter, Recipient } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { NoticeEntity } from '../store/entity/history.entity';

let server: SmallServer;
let admin: Agent;

async function begin(notify: readonly Recipient[]): Promise<void> {
  const change = (charter: Charter): Charter => ({
    ...charter,
    verdicts: charter.verdicts.map((one) => (one.key === 'hand-over-now' ? { ...one, notify } : one)),
  });
  server = await SmallServer.start(change);
  admin = await server.as('admin');
}
afterEach(() => server.stop());

const click = async (id: number, times: number): Promise<void> => {
  for (let n = 0; n < times; n += 1)
    await admin.post(`/api/leads/${id}/activities`).send({ kind: 'mail_clicked' }).expect(201);
};
/** The notices of a lead in order: of which kind, and for whom. */
const told = async (id: number): Promise<string[]> => {
  await server.deliver();
  const notices = await server.source.manager.find(NoticeEntity, { where: { record: id }, order: { id: 'ASC' } });
  return notices.map(({ kind, person }) => `${kind} ${person ?? 'operations'}`);
};
const values = { email: 'a@told.example', industry: 'Brewery', country: 'NO' };

test('who is named for a verdict is told once a lead gets it: its owner, who leads the owner’s team, operations', async () => {
  await begin(['owner', 'manager', 'operations']);
  const made = await admin.post('/api/leads').send({ values: { ...values, employees: '80' } });
  const { id } = made.body as { id: number };
  const [assigned] = await told(id);
  const owner = assigned?.split(' ')[1];
  await click(id, 2);
  const after = (await told(id)).slice(1).sort();
  expect(after).toEqual([`graded ${owner}`, 'graded boss', 'graded operations'].sort());
  // More of the same is no news.
  await click(id, 1);
  expect((await told(id)).length).toBe(4);
});

test('nobody is told by themselves, and whoever gets the lead in the same moment is told that alone', async () => {
  await begin(['owner']);
  const send = (employees: string) => admin.post('/api/leads').send({ values: { ...values, employees } });
  const { id } = (await send('80')).body as { id: number };
  expect((await told(id)).map((one) => one.split(' ')[0])).toEqual(['assigned']);
  await server.stop();
  await begin([]);
  const quiet = (await send('80')).body as { id: number };
  await click(quiet.id, 3);
  expect((await told(quiet.id)).map((one) => one.split(' ')[0])).toEqual(['assigned']);
});
