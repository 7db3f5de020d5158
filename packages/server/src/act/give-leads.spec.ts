import type { Accepted, Given } from '@relvik/contracts';
import type { Charter, Stream } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { PersonEntity, RepLoadEntity, RotaEntity, TeamMemberEntity } from '../store/entity/people.entity';

let server: SmallServer;
let admin: Agent;
afterEach(() => server.stop());

/** A server whose stream is changed. */
async function start(change: Partial<Stream> = {}): Promise<void> {
  server = await SmallServer.start((charter: Charter) => ({
    ...charter,
    streams: charter.streams.map((stream) => ({ ...stream, ...change })),
  }));
  admin = await server.as('admin');
}

let brought = 0;
const bring = async (values: object = {}, more: object = {}): Promise<number> => {
  server.now = new Date(server.now.getTime() + 60_000);
  const email = `p${(brought += 1)}@given.example`;
  const sent = { values: { email, industry: 'Brewery', country: 'DE', ...values }, ...more };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const bringMany = async (count: number, values: object = {}): Promise<number[]> => {
  const ids: number[] = [];
  while (ids.length < count) ids.push(await bring(values));
  return ids;
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const ownersOf = async (ids: readonly number[]) => Promise.all(ids.map(async (id) => (await leadOf(id)).owner));
const give = async (ids: readonly number[], to: string, key: string | null, by = admin, more: object = {}) =>
  (
    await by
      .post('/api/leads/give')
      .send({ ids, to, key, ...more })
      .expect(200)
  ).body as Given;
const preview = async (ids: readonly number[], to: string, key: string | null) =>
  (await admin.post('/api/leads/give-preview').send({ ids, to, key }).expect(200)).body as Given;
const edit = async (id: number, values: object) => {
  server.now = new Date(server.now.getTime() + 60_000);
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version: (await leadOf(id)).version, values })
    .expect(200);
};
const openOf = async (rep: string) => (await server.source.manager.findOneBy(RepLoadEntity, { rep }))?.open ?? 0;

test('many given to a team go in turn within limits, as the preview said; who is left stays, and is told why', async () => {
  await start();
  const ids = await bringMany(5);
  await server.source.manager.update(PersonEntity, { key: 'bo' }, { takes: 1 });
  const expected = {
    places: [
      { place: { kind: 'owner', rep: 'ada' }, leads: 2 },
      { place: { kind: 'owner', rep: 'bo' }, leads: 1 },
    ],
    done: ids.slice(0, 3),
    refused: ids.slice(3).map((id) => ({
      ...{ id, why: expect.stringContaining('Ada Lindqvist has 2 open leads, the limit is 2') as string },
    })),
  };
  expect(await preview(ids, 'team', 'north')).toEqual(expected);
  expect(await ownersOf(ids)).toEqual([null, null, null, null, null]);
  expect(await give(ids, 'team', 'north')).toEqual(expected);
  expect(await ownersOf(ids)).toEqual(['ada', 'bo', 'ada', null, null]);
  expect((await leadOf(ids[4]!)).queue).toBe('projects');
  expect([await openOf('ada'), await openOf('bo')]).toEqual([2, 1]);
  // The turns of the team by hand are its own; those of routes stay.
  expect(await server.source.manager.find(RotaEntity)).toMatchObject([{ route: '~north', lastServed: 'ada' }]);
  const [line] = await server.source.manager.find(ChangeEntity, {
    where: { record: ids[0]!, field: 'place' },
    order: { id: 'DESC' },
  });
  expect(line).toMatchObject({ cause: 'hand', by: 'Runa Admin', rule: null });
});

test('given to a route, its turns move on and it counts as its; to a queue or someone, no rule is asked', async () => {
  await start();
  const [first, second, third, fourth] = (await bringMany(4)) as [number, number, number, number];
  expect((await give([first, second], 'route', 'north')).places).toHaveLength(2);
  expect(await leadOf(second)).toMatchObject({ owner: 'bo', route: 'north' });
  expect(await give([third], 'queue', 'operations')).toMatchObject({ done: [third], refused: [] });
  expect(await leadOf(third)).toMatchObject({ queue: 'operations', route: null });
  // Limits do not bind a person’s judgement.
  await server.source.manager.update(PersonEntity, { key: 'ada' }, { takes: 0 });
  expect(await give([fourth], 'rep', 'ada')).toMatchObject({ done: [fourth] });
  expect(await leadOf(fourth)).toMatchObject({ owner: 'ada', route: null });
  for (const [to, key] of [
    ['rep', 'cai'],
    ['team', 'south'],
    ['queue', 'nowhere'],
    ['route', 'nowhere'],
  ])
    expect((await admin.post('/api/leads/give').send({ ids: [first], to, key })).body).toMatchObject({
      status: 422,
      errors: [{ path: '/key' }],
    });
});

test('the routes choose again: whoever they lead to now gets it; a lead that none takes stays, and so does a closed one', async () => {
  await start();
  const [moves, stays, closed] = (await bringMany(3)) as [number, number, number];
  await give([moves, stays, closed], 'rep', 'dee');
  await edit(moves, { country: 'NO' });
  await edit(stays, { country: 'FR' });
  await admin.post(`/api/leads/${closed}/close`).send({ outcome: 'lost', reason: 'gone' }).expect(200);
  expect(await give([moves, stays, closed], 'again', null)).toEqual({
    done: [moves],
    places: [{ place: { kind: 'owner', rep: 'ada' }, leads: 1 }],
    refused: [
      { id: stays, why: 'No route takes it. It would go to the last resort.' },
      { id: closed, why: 'The lead is closed. It was closed as lost.' },
    ],
  });
  expect(await ownersOf([moves, stays, closed])).toEqual(['ada', 'dee', 'dee']);
  expect(await openOf('dee')).toBe(1);
});

test('a manager gives leads of their teams within them: what lies outside is named, or not there', async () => {
  await start();
  const [own, foreign] = (await bringMany(2)) as [number, number];
  await give([own], 'rep', 'bo');
  await give([foreign], 'rep', 'dee');
  const boss = await server.as('boss');
  expect(await give([own, foreign], 'team', 'north', boss, { method: 'lightest-load' })).toMatchObject({
    done: [own],
    refused: [{ id: foreign, why: expect.stringContaining('There is nothing here') as string }],
  });
  for (const [to, key] of [
    ['rep', 'dee'],
    ['team', 'overseas'],
    ['queue', 'projects'],
    ['route', 'centre'],
  ])
    expect((await boss.post('/api/leads/give').send({ ids: [own], to, key })).body).toMatchObject({
      status: 422,
      errors: [{ path: '/key' }],
    });
  expect(
    (await (await server.as('bo')).post('/api/leads/give').send({ ids: [own], to: 'rep', key: 'ada' })).status,
  ).toBe(403);
});

test('an owned lead that is edited twenty times stays, also where its stream asks again after edits', async () => {
  await start({ again: ['edited', 'entered', 'activity', 'time', 'territory-changed', 'tie-changed'] });
  const id = await bring({ country: 'NO' });
  const turns = await server.source.manager.find(RotaEntity);
  for (let i = 0; i < 20; i += 1) await edit(id, { employees: String(50 + i) });
  expect(await leadOf(id)).toMatchObject({ owner: 'ada', route: 'north' });
  expect(await server.source.manager.find(RotaEntity)).toEqual(turns);
});

test('an owner set by hand outside the team of the route stays through edits; once the routes choose, they hold again', async () => {
  await start({ again: ['edited'] });
  const id = await bring({ country: 'NO' });
  await give([id], 'rep', 'dee');
  for (const employees of ['51', '52', '53']) await edit(id, { employees });
  await edit(id, { country: 'DE' });
  expect(await leadOf(id)).toMatchObject({ owner: 'dee', place: 'owner' });
  await give([id], 'again', null);
  expect(await leadOf(id)).toMatchObject({ queue: 'projects', route: 'centre' });
  await edit(id, { country: 'NO' });
  expect(await leadOf(id)).toMatchObject({ owner: 'bo', route: 'north' });
});

test('its territory changes: it is handed on once, where its stream says so, and stays where nobody is free', async () => {
  await start({ again: ['territory-changed'] });
  const [id, waits, brought] = [await bring({ country: 'NO' }), await bring(), await bring({}, { owner: 'dee' })];
  await edit(id, { employees: '60' });
  await edit(id, { country: 'DE' });
  expect(await leadOf(id)).toMatchObject({ queue: 'projects', route: 'centre' });
  expect(await openOf('ada')).toBe(0);
  const moves = await server.source.manager.countBy(ChangeEntity, { record: id, field: 'place' });
  await edit(id, { employees: '61' });
  expect(await server.source.manager.countBy(ChangeEntity, { record: id, field: 'place' })).toBe(moves);
  // Nobody of the other team is free.
  for (const key of ['ada', 'bo']) await server.source.manager.update(PersonEntity, { key }, { away: true });
  await edit(waits, { country: 'NO' });
  expect(await leadOf(waits)).toMatchObject({ queue: 'projects', route: 'centre' });
  // Who was brought in with an owner keeps them.
  await edit(brought, { country: 'NO' });
  expect(await leadOf(brought)).toMatchObject({ owner: 'dee', route: null });
});

test('an owner who has left the team of the route: the next edit gives the lead to someone who is in it', async () => {
  await start({ again: ['edited'] });
  const id = await bring({ country: 'NO' });
  await edit(id, { employees: '60' });
  expect((await leadOf(id)).owner).toBe('ada');
  await server.source.manager.delete(TeamMemberEntity, { team: 'north', person: 'ada' });
  await edit(id, { employees: '61' });
  expect(await leadOf(id)).toMatchObject({ owner: 'bo', route: 'north' });
});

test('two at once give the same lead away: each gift stands one after the other, and loads are right', async () => {
  await start();
  const [id] = (await bringMany(1)) as [number];
  await Promise.all([give([id], 'rep', 'ada'), give([id], 'team', 'north'), give([id], 'rep', 'bo')]);
  const { owner } = await leadOf(id);
  expect(['ada', 'bo']).toContain(owner);
  expect([await openOf('ada'), await openOf('bo')]).toEqual(owner === 'ada' ? [1, 0] : [0, 1]);
});
