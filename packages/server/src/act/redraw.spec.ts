import type { Accepted, CharterState, Redraw } from '@relvik/contracts';
import type { Charter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { finishRescores } from '../job/rescore';
import { RepLoadEntity } from '../store/entity/people.entity';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

let people = 0;
const bring = async (country: string): Promise<number> => {
  const values = { email: `p${(people += 1)}@place.example`, industry: 'Brewery', country };
  return ((await admin.post('/api/leads').send({ values }).expect(201)).body as Accepted).id;
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const redraw = async (): Promise<Redraw> => (await admin.get('/api/redraw').expect(200)).body as Redraw;
const loads = async (): Promise<Record<string, number>> =>
  Object.fromEntries((await server.source.manager.find(RepLoadEntity)).map(({ rep, open }) => [rep, open]));

/** Norway goes from the Nordics to D-A-CH, whose route leads to a queue; leads are only scored again. */
async function enactRedrawn(): Promise<void> {
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Redrawn' })).body as CharterState;
  const { territories, ...charter } = draft!.charter;
  const list = territories.list.map((one): Charter['territories']['list'][number] => {
    const rest = one.countries.filter((country) => country !== 'NO');
    return { ...one, countries: one.key === 'dach' ? [...rest, 'NO'] : rest };
  });
  const sent = { version: draft!.version, charter: { ...charter, territories: { ...territories, list } } };
  const { version } = ((await admin.put(`/api/drafts/${draft!.id}`).send(sent).expect(200)).body as CharterState)
    .draft!;
  const how = { version, reason: 'redrawn', scope: { which: 'all' }, reach: 'score' };
  await admin.post(`/api/drafts/${draft!.id}/enact`).send(how).expect(202);
  const { charter: number } = await redraw();
  await admin.post('/api/redraw').send({ charter: number, choice: 'all' }).expect(409);
  server.now = new Date(server.now.getTime() + 60_000);
  await finishRescores(server.source, () => server.now);
}

test('after a redraw leads keep their owners until it is chosen; those that are handed on go where routes lead now, and come back', async () => {
  const ids = [await bring('NO'), await bring('NO'), await bring('SE')];
  const owners = await Promise.all(ids.map(async (id) => (await leadOf(id)).owner));
  expect(owners).not.toContain(null);
  const [called] = ids as [number];
  await admin.post(`/api/leads/${called}/activities`).send({ kind: 'call_taken' }).expect(201);
  const before = await loads();
  await enactRedrawn();

  const found = await redraw();
  expect(found).toMatchObject({ leads: 2, untouched: 1, chosen: null });
  expect(found.some[0]).toMatchObject({ id: called, owner: owners[0], from: 'nordics', to: 'dach', untouched: false });
  expect((await leadOf(called)).owner).toBe(owners[0]);

  const choose = (choice: string) => admin.post('/api/redraw').send({ charter: found.charter, choice });
  expect((await choose('untouched').expect(200)).body).toMatchObject({ chosen: { choice: 'untouched', handedOn: 1 } });
  expect(await leadOf(ids[1] as number)).toMatchObject({ place: 'queue', queue: 'projects', owner: null });
  expect((await leadOf(called)).owner).toBe(owners[0]);
  await choose('all').expect(422);
  // The former owner's load goes down by one.
  const after = await loads();
  expect(after[owners[1] as string]).toBe((before[owners[1] as string] ?? 0) - 1);

  const undone = (await admin.post('/api/redraw/undo').send({ charter: found.charter }).expect(200)).body as Redraw;
  expect(undone.chosen).toBeNull();
  expect(await leadOf(ids[1] as number)).toMatchObject({ place: 'owner', owner: owners[1] });
  expect(await loads()).toEqual(before);
  await choose('all').expect(200);
  expect(await leadOf(called)).toMatchObject({ place: 'queue', queue: 'projects' });
});

test('pinned leads, those whose address moved, and those a hand gave on are no part of it; an old charter is refused', async () => {
  const [pinned, moved, given] = [await bring('NO'), await bring('NO'), await bring('NO')];
  await admin
    .post('/api/leads/pin')
    .send({ ids: [pinned], territory: 'nordics' })
    .expect(200);
  await enactRedrawn();
  expect((await redraw()).leads).toBe(2);
  await admin.post(`/api/leads/${given}/assign`).send({ rep: 'bo' }).expect(200);
  const { version } = await leadOf(moved);
  await admin
    .patch(`/api/leads/${moved}`)
    .send({ version, values: { country: 'SE' } })
    .expect(200);
  // It lies again where it lay.
  const { leads, charter } = await redraw();
  expect(leads).toBe(0);
  await admin
    .post('/api/redraw')
    .send({ charter: charter - 1, choice: 'all' })
    .expect(422);
  await admin.post('/api/redraw/undo').send({ charter: 99 }).expect(404);
});
