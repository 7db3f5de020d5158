import type { Accepted, CharterState, People } from '@relvik/contracts';
import type { Charter, Route } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { DecisionEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { RotaEntity } from '../store/entity/people.entity';
import { finishRescores } from '../job/rescore';
import { freeBay } from './free-bay';

let server: SmallServer;
let admin: Agent;
afterEach(() => server.stop());

/** A server whose route to the Nordics is changed, with more routes below it. */
async function start(north: Partial<Route> = {}, ...below: Partial<Route>[]): Promise<void> {
  server = await SmallServer.start((charter: Charter) => ({
    ...charter,
    streams: charter.streams.map((stream) => ({
      ...stream,
      routes: stream.routes.flatMap((route) =>
        route.key === 'north'
          ? [{ ...route, ...north }, ...below.map((one, i) => ({ ...route, key: `below-${i}` as never, ...one }))]
          : [route],
      ),
    })),
  }));
  admin = await server.as('admin');
}

let brought = 0;
const bring = async (values: object = {}): Promise<number> => {
  const email = `p${(brought += 1)}@free.example`;
  const sent = { values: { email, industry: 'Brewery', country: 'NO', ...values } };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const bringMany = async (count: number): Promise<number[]> => {
  const ids: number[] = [];
  while (ids.length < count) ids.push(await bring());
  return ids;
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const ownersOf = async (ids: readonly number[]) => Promise.all(ids.map(async (id) => (await leadOf(id)).owner));
const change = (key: string, to: object) =>
  admin.patch(`/api/people/${key}`).send({ mayTakeLeads: true, limit: null, whyNot: null, ...to });
const hours = (from: string, to: string) => ({
  ...{ timeZone: 'UTC', weekly: [1, 2, 3, 4, 5].map((day) => ({ day, from, to })) },
});
const at = (text: string): void => {
  server.now = new Date(text);
};

test('everyone outside hours: leads wait, go at the first start, oldest first, and none that comes in passes them', async () => {
  await start();
  for (const key of ['ada', 'bo']) await change(key, { hours: hours('12:00', '17:00') }).expect(200);
  const ids = await bringMany(3);
  expect(await ownersOf(ids)).toEqual([null, null, null]);
  const { body } = await server.source.manager.findOneByOrFail(DecisionEntity, { record: ids[0]! });
  expect(body.skipped.map(({ exclusion }) => exclusion.why)).toEqual([
    'outside-hours',
    'may-not-take-leads',
    'outside-hours',
    'may-not-take-leads',
  ]);
  at('2026-03-02T11:59:59Z');
  expect(await freeBay(server.source, server.now)).toBe(0);
  // Before the bay is looked at again, another comes in.
  at('2026-03-02T12:00:00Z');
  const late = await bring();
  expect(await ownersOf([...ids, late])).toEqual(['ada', 'bo', 'ada', 'bo']);
  at('2026-03-02T17:00:00Z');
  const evening = await bring();
  at('2026-03-03T12:00:00Z');
  expect(await freeBay(server.source, server.now)).toBe(1);
  expect((await leadOf(evening)).owner).toBe('ada');
});

test('next route with none left: it waits for all that matched, and none that matches only the second passes it', async () => {
  const queue = { kind: 'queue', queue: 'projects' } as never;
  const swedes = { test: 'one-of', subject: { kind: 'field', field: 'country' }, values: ['SE'] } as never;
  await start(
    { nobodyFree: { kind: 'next-route' } },
    { name: 'Second', to: { kind: 'reps', reps: ['dee'] as never }, when: { test: 'all', of: [] } },
    { name: 'Swedes', to: queue, when: swedes },
  );
  for (const key of ['ada', 'bo', 'dee']) await change(key, { limit: 0 }).expect(200);
  const waits = await bring();
  expect((await leadOf(waits)).bay).toMatchObject({ why: 'nobody-free', route: 'north', also: ['below-0'] });
  // This one matches the second route alone.
  const alone = await bring({ country: '' });
  await change('dee', { limit: 1 }).expect(200);
  expect(await ownersOf([waits, alone])).toEqual(['dee', null]);
  expect(await leadOf(waits)).toMatchObject({ route: 'below-0', bay: null });
  await change('ada', { limit: 1 }).expect(200);
  expect(await ownersOf([await bring(), alone])).toEqual(['ada', null]);
});

test('another destination, and limits ignored, where nobody is free; the limit 0 is never ignored', async () => {
  await start({ nobodyFree: { kind: 'elsewhere', to: { kind: 'queue', queue: 'projects' as never } } });
  for (const key of ['ada', 'bo']) await change(key, { limit: 1 }).expect(200);
  const ids = await bringMany(3);
  expect(await ownersOf(ids)).toEqual(['ada', 'bo', null]);
  expect(await leadOf(ids[2]!)).toMatchObject({ place: 'queue', queue: 'projects', route: 'north' });
  await server.stop();
  await start({ nobodyFree: { kind: 'ignore-limits' } });
  await change('ada', { limit: 0 }).expect(200);
  await change('bo', { limit: 1 }).expect(200);
  expect(await ownersOf(await bringMany(3))).toEqual(['bo', 'bo', 'bo']);
});

test('who says they are away gets none, and whoever comes back gets what waits; a paused team gets none', async () => {
  await start();
  await change('bo', { away: true }).expect(200);
  await change('ada', {}).expect(200);
  const ada = await server.as('ada');
  expect(await ownersOf(await bringMany(2))).toEqual(['ada', 'ada']);
  const say = (away: boolean) => ada.patch('/api/presence').send({ away, daysOff: [] });
  await say(true).expect(200);
  const waits = await bring();
  expect((await leadOf(waits)).place).toBe('bay');
  const team = { paused: true, parent: null, hours: null, members: ['ada', 'cai', 'bo', 'boss'] };
  await admin.patch('/api/teams/north').send(team).expect(200);
  await say(false).expect(200);
  expect((await leadOf(waits)).place).toBe('bay');
  await admin
    .patch('/api/teams/north')
    .send({ ...team, paused: false })
    .expect(200);
  expect((await leadOf(waits)).owner).toBe('ada');
});

test('a team emptied while leads wait for it: they go on waiting, and go to whoever joins it', async () => {
  await start();
  for (const key of ['ada', 'bo']) await change(key, { limit: 0 }).expect(200);
  const waits = await bring();
  const team = { paused: false, parent: null, hours: null };
  await admin
    .patch('/api/teams/north')
    .send({ ...team, members: [] })
    .expect(200);
  expect((await leadOf(waits)).place).toBe('bay');
  await admin
    .patch('/api/teams/north')
    .send({ ...team, members: ['dee'] })
    .expect(200);
  expect((await leadOf(waits)).owner).toBe('dee');
});

test('a stream is switched off while leads wait in it: nothing hands them over any more, and nobody is skipped for them', async () => {
  await start();
  for (const key of ['ada', 'bo']) await change(key, { limit: 0 }).expect(200);
  const waits = await bring();
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Off' })).body as CharterState;
  const streams = draft!.charter.streams.map((stream) => ({ ...stream, on: false }));
  const saved = await admin
    .put(`/api/drafts/${draft!.id}`)
    .send({ version: draft!.version, charter: { ...draft!.charter, streams } })
    .expect(200);
  const { version } = (saved.body as CharterState).draft!;
  const how = { version, reason: 'off', scope: { which: 'all' }, reach: 'score' };
  await admin.post(`/api/drafts/${draft!.id}/enact`).send(how).expect(202);
  at('2026-03-02T09:10:00Z');
  await finishRescores(server.source, () => server.now);
  await freeBay(server.source, server.now, 'all');
  expect(await leadOf(waits)).toMatchObject({ place: 'not-handed-over', bay: null, nobodyBecause: null });
  await change('ada', {}).expect(200);
  expect((await leadOf(waits)).owner).toBeNull();
});

test('skills: blank asks for nothing, nobody has it tells operations at once, and a new skill lets it go', async () => {
  await start({ skills: [{ skill: 'trades', field: 'industry' }], when: { test: 'all', of: [] } });
  await admin
    .put('/api/skills/trades')
    .send({ name: 'Trades', words: ['Brewery', 'Fish farm'] })
    .expect(200);
  await change('bo', { skills: [{ skill: 'trades', has: ['fish FARM'] }] }).expect(200);
  const waits = await bring();
  expect((await leadOf(waits)).place).toBe('bay');
  const told = await server.source.manager.findBy(OutboxEntity, { record: waits });
  expect(told.map(({ body }) => body.notice)).toEqual(['nobody-has-skill']);
  expect((await leadOf(await bring({ industry: 'Fish farm', employees: '900' }))).owner).toBe('bo');
  await change('ada', { skills: [{ skill: 'trades', has: ['Brewery'] }] }).expect(200);
  expect((await leadOf(waits)).owner).toBe('ada');
  // The list is asked for by the charter in force; a word that goes is taken from whoever had it.
  await admin.delete('/api/skills/trades').expect(422);
  const left = await admin
    .put('/api/skills/trades')
    .send({ name: 'Trades', words: ['Fish farm'] })
    .expect(200);
  expect((left.body as People).people.find(({ key }) => key === 'ada')?.skills).toEqual([]);
});

test('weighted turns go on where they stood, lead by lead, in the published sequence', async () => {
  await start({ method: 'weighted', to: { kind: 'reps', reps: ['ada', 'bo', 'dee'] as never } });
  await change('ada', { weight: 5 }).expect(200);
  const owners = await ownersOf(await bringMany(7));
  expect(owners).toEqual(['ada', 'ada', 'bo', 'ada', 'dee', 'ada', 'ada']);
  const { credits } = await server.source.manager.findOneByOrFail(RotaEntity, { route: 'north' });
  expect(credits).toEqual([0, 0, 0]);
});

test('first free goes by whoever has been longest without a new lead, also one by hand', async () => {
  await start({ method: 'first-free' });
  await change('ada', {}).expect(200);
  const [one] = await bringMany(1);
  expect((await leadOf(one!)).owner).toBe('ada');
  at('2026-03-02T09:05:00Z');
  await admin.post(`/api/leads/${one}/assign`).send({ rep: 'bo' }).expect(200);
  at('2026-03-02T09:06:00Z');
  expect(await ownersOf(await bringMany(2))).toEqual(['ada', 'bo']);
});

test('a route that leads to nobody says why, and edits leave it so', async () => {
  await start({ to: { kind: 'nobody', reason: 'a competitor' } });
  const id = await bring();
  expect(await leadOf(id)).toMatchObject({ place: 'not-handed-over', nobodyBecause: 'a competitor', route: 'north' });
  const lead = await leadOf(id);
  await admin
    .patch(`/api/leads/${id}`)
    .send({ version: lead.version, values: { employees: '12' } })
    .expect(200);
  expect(await leadOf(id)).toMatchObject({ place: 'not-handed-over', nobodyBecause: 'a competitor' });
  const { rows } = (await admin.get('/api/leads')).body as { rows: { place: object }[] };
  expect(rows[0]?.place).toMatchObject({ kind: 'not-handed-over', reason: 'a competitor' });
});

test('what can’t be of a person is refused at its place, and nothing is changed', async () => {
  await start();
  const before = (await admin.get('/api/people')).body as People;
  const week = (day: number, from: string, to: string) => ({
    hours: { timeZone: 'UTC', weekly: [{ day, from, to }] },
  });
  for (const [to, path] of [
    [{ hours: { timeZone: 'Mars/Olympus', weekly: [] } }, '/hours/timeZone'],
    [week(1, '17:00', '09:00'), '/hours/weekly/0/to'],
    [week(8, '09:00', '10:00'), '/hours/weekly/0/day'],
    [week(1, '9', '10:00'), '/hours/weekly/0/from'],
    [{ daysOff: [{ from: '2026-03-04', to: '2026-03-03', hours: null }] }, '/daysOff/0/to'],
    [{ daysOff: 'all' }, '/daysOff'],
    [{ holidaysOf: 'XX' }, '/holidaysOf'],
    [{ skills: [{ skill: 'none', has: [] }] }, '/skills/0/skill'],
    [{ weight: 0 }, '/weight'],
  ] as const) {
    const refused = await change('ada', to).expect(422);
    expect([to, (refused.body as { errors: { path: string }[] }).errors[0]?.path]).toEqual([to, path]);
  }
  expect((await admin.get('/api/people')).body).toEqual(before);
});

test('teams: nobody twice, no circle of teams; a rep sees no days off of colleagues', async () => {
  await start();
  const team = { paused: false, parent: null, hours: null, members: ['ada', 'ada'] };
  await admin.patch('/api/teams/north').send(team).expect(422);
  await admin
    .patch('/api/teams/overseas')
    .send({ ...team, members: ['dee'], parent: 'north' })
    .expect(200);
  const refused = await admin
    .patch('/api/teams/north')
    .send({ ...team, members: ['ada', 'bo'], parent: 'overseas' })
    .expect(422);
  expect((refused.body as { errors: object[] }).errors).toEqual([
    { path: '/parent', message: 'lies inside this team itself' },
  ]);
  const off = [{ from: '2026-03-09', to: '2026-03-13', hours: null }];
  await change('ada', { daysOff: off }).expect(200);
  const seen = async (as: string) =>
    ((await (await server.as(as)).get('/api/people')).body as People).people.find(({ key }) => key === 'ada')?.daysOff;
  expect([await seen('bo'), await seen('ada')]).toEqual([[], off]);
});
