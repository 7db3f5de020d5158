import type { Accepted, LeadDetail } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { PersonEntity, RepLoadEntity } from '../store/entity/people.entity';
import { standIn } from './stand-in';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (owner: string): Promise<number> => {
  const email = `p${(brought += 1)}@deputy.example`;
  const sent = { values: { email, industry: 'Brewery', country: 'NO' }, owner };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const change = (key: string, to: object) =>
  admin.patch(`/api/people/${key}`).send({ mayTakeLeads: true, limit: null, whyNot: null, ...to });
const ownersOf = async (ids: readonly number[]) =>
  Promise.all(ids.map(async (id) => (await server.source.manager.findOneByOrFail(LeadEntity, { id })).owner));
const give = (id: number, to: string) =>
  admin
    .post('/api/leads/give')
    .send({ ids: [id], to: 'rep', key: to })
    .expect(200);
const openOf = async (rep: string) => (await server.source.manager.findOneBy(RepLoadEntity, { rep }))?.open ?? 0;

test('while someone is away a deputy has the open leads, beyond the limit, and then they come back; but for those closed or given on', async () => {
  const ids = [await bring('ada'), await bring('ada'), await bring('ada')];
  const [kept = 0, closed = 0, passed = 0] = ids;
  await change('bo', { limit: 1 }).expect(200);
  await change('ada', { deputy: 'bo', away: true }).expect(200);
  expect([await ownersOf(ids), await openOf('ada'), await openOf('bo')]).toEqual([['bo', 'bo', 'bo'], 0, 3]);
  const detail = (await admin.get(`/api/leads/${kept}`)).body as LeadDetail;
  expect(detail.deputyFor).toBe('ada');
  expect(detail.history[0]).toMatchObject({ field: 'place', reason: 'Ada Lindqvist is away: Bo Rask stands in' });
  const bo = await server.as('bo');
  await bo.post(`/api/leads/${closed}/close`).send({ outcome: 'lost', reason: 'no answer' }).expect(200);
  await give(passed, 'dee');
  await change('ada', { away: false }).expect(200);
  expect([await ownersOf(ids), await openOf('ada'), await openOf('bo')]).toEqual([['ada', 'bo', 'dee'], 1, 0]);
  expect(((await admin.get(`/api/leads/${kept}`)).body as LeadDetail).history[0]).toMatchObject({
    reason: 'Ada Lindqvist is here again',
  });
});

test('a whole day off counts, from its first midnight by their clock to its last; of what is not to come back nothing does', async () => {
  const id = await bring('ada');
  const hours = { timeZone: 'Europe/Oslo', weekly: [{ day: 1, from: '08:00', to: '16:00' }] };
  const daysOff = [{ from: '2026-04-01', to: '2026-04-02', hours: null }];
  await change('ada', { deputy: 'bo', getsBack: false, hours, daysOff }).expect(200);
  const at = async (instant: string) => {
    await standIn(server.source, new Date(instant));
    return (await ownersOf([id]))[0];
  };
  expect(await at('2026-03-31T21:59:00Z')).toBe('ada');
  expect(await at('2026-03-31T22:00:00Z')).toBe('bo');
  await change('ada', { getsBack: true }).expect(200);
  expect(await at('2026-04-02T22:00:00Z')).toBe('bo');
  await give(id, 'ada');
  expect(await at('2026-04-02T21:59:00Z')).toBe('bo');
  expect(await at('2026-04-02T22:00:00Z')).toBe('ada');
});

test('a deputy who is off takes nothing over; who stands in for a deputy gives back to whom it was; two servers at once move each lead once', async () => {
  const ids = [await bring('ada'), await bring('ada'), await bring('bo')];
  await change('bo', { deputy: 'dee', away: true }).expect(200);
  await change('ada', { deputy: 'bo', away: true }).expect(200);
  expect(await ownersOf(ids)).toEqual(['ada', 'ada', 'dee']);
  await change('bo', { deputy: 'dee', away: false }).expect(200);
  expect(await ownersOf(ids)).toEqual(['bo', 'bo', 'bo']);
  await server.source.manager.update(PersonEntity, { key: 'bo' }, { away: true });
  const moved = await Promise.all([1, 2].map(() => standIn(server.source, server.now)));
  expect([(moved[0] ?? 0) + (moved[1] ?? 0), await ownersOf(ids)]).toEqual([3, ['dee', 'dee', 'dee']]);
  await change('ada', { away: false }).expect(200);
  expect(await ownersOf(ids)).toEqual(['ada', 'ada', 'dee']);
  await change('bo', { away: false }).expect(200);
  expect([await ownersOf(ids), await openOf('ada'), await openOf('bo'), await openOf('dee')]).toEqual([
    ['ada', 'ada', 'bo'],
    ...[2, 1, 0],
  ]);
});

test('a deputy is someone else who takes leads, and is forgotten when they go', async () => {
  for (const [deputy, message] of [
    ['ada', 'is the same person'],
    ['cai', 'takes no leads: Cai Morgan'],
    ['nobody', 'is nobody here'],
  ])
    expect((await change('ada', { deputy })).body).toMatchObject({
      status: 422,
      errors: [{ path: '/deputy', message }],
    });
  await change('ada', { deputy: 'bo' }).expect(200);
  const gone = await admin.post('/api/people/bo/retire').send({ leads: { to: 'again', key: null }, heir: null });
  expect(gone.body).toMatchObject({ given: { refused: [] } });
  expect((await server.source.manager.findOneByOrFail(PersonEntity, { key: 'ada' })).deputy).toBe(null);
});
