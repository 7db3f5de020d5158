import type { Accepted, Bay, RunPreview, ScheduledStream, StreamRun } from '@relvik/contracts';
import type { Charter, Schedule } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { tellOfLongWaits } from '../job/bay-alarm';
import { runSchedules } from '../job/schedules';
import { CharterEntity } from '../store/entity/charter.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { freeBay } from './free-bay';
import { carryOnRun } from './stream-run';

const NIGHTLY: Schedule = { kind: 'daily', at: '02:00' };
/** The stream of the small charter gives away each night, by the clock of Oslo. */
const nightly = (charter: Charter): Charter => ({
  ...charter,
  streams: charter.streams.map((stream) => ({
    ...stream,
    schedule: NIGHTLY,
    onlyOnSchedule: true,
    again: ['schedule'] as const,
  })),
});

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(nightly);
  admin = await server.as('admin');
  await server.source.manager.update(PersonEntity, { key: 'ada' }, { takes: null });
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (more: object = {}): Promise<number> => {
  const email = `p${(brought += 1)}@nightly.example`;
  const sent = { values: { email, industry: 'Brewery', country: 'NO' }, ...more };
  return ((await admin.post('/api/leads').send(sent).expect(201)).body as Accepted).id;
};
const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const ownersOf = async (ids: readonly number[]) => Promise.all(ids.map(async (id) => (await lead(id)).owner));
const runAt = async (instant: string): Promise<void> => {
  server.now = new Date(instant);
  await runSchedules(server.source, () => server.now);
};
const scheduled = async (): Promise<ScheduledStream> => {
  // Time goes on for days: everyone is signed out meanwhile.
  admin = await server.as('admin');
  const [one] = (await admin.get('/api/streams/scheduled').expect(200)).body as ScheduledStream[];
  return one!;
};

test('leads wait in the bay for the night, and go then in the order in which they came, one after the other in turn', async () => {
  await runAt('2026-03-02T09:00:00Z');
  const ids = [await bring(), await bring(), await bring(), await bring()];
  expect((await lead(ids[0]!)).bay).toEqual({ why: 'scheduled', stream: 'main', route: 'north' });
  await freeBay(server.source, server.now, 'all');
  // Nobody is told that they wait.
  await admin.put('/api/bay/alarm').send({ hours: 1 });
  await tellOfLongWaits(server.source, new Date('2026-03-02T20:00:00Z'));
  expect(await server.source.manager.find(OutboxEntity)).toEqual([]);
  const bay = (await admin.get('/api/bay')).body as Bay;
  expect(bay.groups).toMatchObject([{ reason: { why: 'scheduled' }, leads: 4, skipped: [] }]);
  expect(await scheduled()).toMatchObject({ next: Date.parse('2026-03-03T01:00:00Z'), last: null });

  await runAt('2026-03-03T00:59:59Z');
  expect(await ownersOf(ids)).toEqual([null, null, null, null]);
  await runAt('2026-03-03T01:00:10Z');
  expect(await ownersOf(ids)).toEqual(['ada', 'bo', 'ada', 'bo']);
  const after = await scheduled();
  expect(after.last).toMatchObject({ state: 'done', by: null, leads: 4, done: 4, given: 4, failed: 0 });
  expect(after.next).toBe(Date.parse('2026-03-04T01:00:00Z'));
  await runAt('2026-03-03T01:00:40Z');
  expect((await scheduled()).last).toEqual(after.last);
});

test('nights that were missed are made up for by one run; a schedule that is changed begins with its next', async () => {
  await runAt('2026-03-02T09:00:00Z');
  const id = await bring();
  await runAt('2026-03-06T12:00:00Z');
  expect(await ownersOf([id])).toEqual(['ada']);
  expect((await scheduled()).last?.id).toBe(1);

  const { manager } = server.source;
  const { body } = await manager.findOneByOrFail(CharterEntity, { inForce: true });
  const streams = body.streams.map((one) => ({ ...one, schedule: { kind: 'every', minutes: 30 } as const }));
  await manager.update(CharterEntity, { inForce: true }, { body: { ...body, streams } });
  const next = await bring();
  await runAt('2026-03-06T12:29:00Z');
  expect((await scheduled()).next).toBe(Date.parse('2026-03-06T12:30:00Z'));
  await runAt('2026-03-06T12:31:00Z');
  expect([(await scheduled()).last?.id, await ownersOf([next])]).toEqual([2, ['bo']]);
});

test('a run is previewed and begun by hand; of two begun at once one runs, and two servers give each lead away once', async () => {
  server.background.idle = true;
  const ids: number[] = [];
  for (let i = 0; i < 7; i += 1) ids.push(await bring());
  // Of whom nobody has, all in the stages of the stream go through it; closed ones and those given by hand do not.
  const scored = await bring({ handling: 'score' });
  await admin.post(`/api/leads/${scored}/move`).send({ stage: 'qualified', reason: 'known' });
  const [closed = 0, given = 0] = ids;
  await admin
    .post('/api/leads/give')
    .send({ ids: [given], to: 'rep', key: 'dee' })
    .expect(200);
  await admin
    .post('/api/leads/give')
    .send({ ids: [closed], to: 'rep', key: 'dee' })
    .expect(200);
  const dee = await server.as('dee');
  await dee.post(`/api/leads/${closed}/close`).send({ outcome: 'lost', reason: 'gone' }).expect(200);

  const preview = (await admin.get('/api/streams/main/run-preview').expect(200)).body as RunPreview;
  expect(preview).toMatchObject({ leads: 5, shown: 5 });
  expect(preview.places).toEqual([
    { place: { kind: 'owner', rep: 'ada' }, leads: 3 },
    { place: { kind: 'owner', rep: 'bo' }, leads: 2 },
  ]);
  expect(await ownersOf(ids.slice(2))).toEqual([null, null, null, null, null]);

  const both = await Promise.all([1, 2].map(() => admin.post('/api/streams/main/run')));
  expect(both.map(({ status }) => status).sort()).toEqual([202, 409]);
  const { id } = both.find(({ status }) => status === 202)!.body as StreamRun;
  await Promise.all([1, 2].map(() => carryOnRun(server.source, id, () => server.now)));
  expect(await ownersOf(ids.slice(2))).toEqual(['ada', 'bo', 'ada', 'bo', 'ada']);
  expect((await scheduled()).last).toMatchObject({ by: 'Runa Admin', state: 'done', leads: 5, done: 5, given: 5 });
  expect((await lead(given)).owner).toBe('dee');
});

test('a run that is stopped gives nothing more away; what the route gave away before goes on where another matches by now', async () => {
  server.background.idle = true;
  const first = await bring();
  const begin = async (): Promise<StreamRun> =>
    (await admin.post('/api/streams/main/run').expect(202)).body as StreamRun;
  await carryOnRun(server.source, (await begin()).id, () => server.now);
  expect(await ownersOf([first])).toEqual(['ada']);

  const second = await bring();
  const { version } = await lead(first);
  await admin
    .patch(`/api/leads/${first}`)
    .send({ version, values: { country: 'DE' } })
    .expect(200);
  expect((await lead(first)).owner).toBe('ada');
  const { id } = await begin();
  const stopped = (await admin.post(`/api/stream-runs/${id}/stop`).expect(200)).body as StreamRun;
  expect(stopped).toMatchObject({ state: 'stopped', leads: 2, done: 0 });
  await carryOnRun(server.source, id, () => server.now);
  expect(await ownersOf([first, second])).toEqual(['ada', null]);

  await carryOnRun(server.source, (await begin()).id, () => server.now);
  expect((await scheduled()).last).toMatchObject({ state: 'done', leads: 2, done: 2, given: 2 });
  expect(await lead(first)).toMatchObject({ place: 'queue', queue: 'projects' });
  expect(await ownersOf([second])).toEqual(['bo']);
  await admin.post('/api/streams/none/run').expect(404);
  await admin.get('/api/streams/none/run-preview').expect(404);
  await admin.post('/api/stream-runs/99/stop').expect(404);
});
