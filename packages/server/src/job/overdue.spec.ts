import type { Accepted, Reasoning } from '@relvik/contracts';
import type { Charter, Destination, QueueKey, TeamKey } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { FailureEntity } from '../store/entity/failure.entity';
import { DecisionEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { PersonEntity, QueueMemberEntity, RotaEntity } from '../store/entity/people.entity';
import { handOnOverdue } from './overdue';

const TO: Destination = {
  kind: 'handed-on',
  team: 'north' as TeamKey,
  queue: 'operations' as QueueKey,
  minutes: 120,
};
/** The manager of team north hands on what comes from the Nordics, within two working hours. */
const handedOn = (charter: Charter): Charter => ({
  ...charter,
  streams: charter.streams.map((stream) => ({
    ...stream,
    routes: stream.routes.map((route) => (route.key === 'north' ? { ...route, to: TO } : route)),
  })),
});

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(handedOn);
  admin = await server.as('admin');
  const { manager } = server.source;
  await manager.insert(QueueMemberEntity, { queue: 'operations', person: 'boss' });
  await manager.update(PersonEntity, { key: 'ada' }, { takes: null });
  const weekly = [1, 2, 3, 4, 5].map((day) => ({ day, from: '08:00', to: '16:00' }));
  const hours = { timeZone: 'Europe/Oslo', weekly };
  await admin.patch('/api/people/boss').send({ mayTakeLeads: false, limit: null, whyNot: 'leads', hours }).expect(200);
});
afterEach(() => server.stop());

let brought = 0;
const bring = async (): Promise<number> => {
  const values = { email: `p${(brought += 1)}@desk.example`, industry: 'Brewery', country: 'NO' };
  return ((await admin.post('/api/leads').send({ values }).expect(201)).body as Accepted).id;
};
const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const decisions = (record: number): Promise<number> => server.source.manager.countBy(DecisionEntity, { record });

test('what comes to a manager waits on the desk; after so many of the manager’s working minutes the team gets it by its method', async () => {
  // Monday, 15:00 in Oslo: an hour is left today.
  server.now = new Date('2026-03-02T14:00:00Z');
  const ids = [await bring(), await bring()];
  expect(await lead(ids[0]!)).toMatchObject({ place: 'queue', queue: 'operations', route: 'north' });
  const told = await server.source.manager.find(OutboxEntity);
  expect(told.map(({ body }) => body.queue)).toEqual(['operations', 'operations']);
  const boss = await server.as('boss');
  expect((await boss.get(`/api/leads/${ids[0]}`)).status).toBe(200);

  expect(await handOnOverdue(server.source, new Date('2026-03-03T07:59:00Z'))).toBe(0);
  expect(await handOnOverdue(server.source, new Date('2026-03-03T08:00:00Z'))).toBe(2);
  expect([(await lead(ids[0]!)).owner, (await lead(ids[1]!)).owner]).toEqual(['ada', 'bo']);
  expect(await lead(ids[0]!)).toMatchObject({ route: 'north' });
  expect((await server.source.manager.findOneByOrFail(RotaEntity, { route: 'north' })).lastServed).toBe('bo');
  server.now = new Date('2026-03-03T08:01:00Z');
  admin = await server.as('admin');
  const { decision } = ((await admin.get(`/api/leads/${ids[0]}/reasoning`)).body as Reasoning).then;
  expect(decision).toMatchObject({ occasion: 'overdue', place: { kind: 'owner', rep: 'ada' } });
  expect(await handOnOverdue(server.source, new Date('2026-03-09T08:00:00Z'))).toBe(0);
});

test('what the manager handed on stays there; without a manager who has hours all minutes count', async () => {
  const [handed, left] = [await bring(), await bring()];
  const boss = await server.as('boss');
  await boss
    .post('/api/leads/give')
    .send({ ids: [handed], to: 'rep', key: 'bo' })
    .expect(200);
  await server.source.query('DELETE FROM team_member WHERE leads = 1');
  expect(await handOnOverdue(server.source, new Date('2026-03-02T10:59:00Z'))).toBe(0);
  expect(await handOnOverdue(server.source, new Date('2026-03-02T11:00:00Z'))).toBe(1);
  expect([(await lead(handed)).owner, (await lead(left)).owner]).toEqual(['bo', 'ada']);
});

test('while nobody of the team is free it stays on the desk, and nothing is written again and again', async () => {
  const id = await bring();
  const before = [await lead(id), await decisions(id)];
  await server.source.query("UPDATE person SET takes = 0 WHERE `key` IN ('ada', 'bo')");
  for (const at of ['2026-03-03T12:00:00Z', '2026-03-03T12:00:30Z'])
    expect(await handOnOverdue(server.source, new Date(at))).toBe(0);
  expect([await lead(id), await decisions(id)]).toEqual(before);
  await server.source.query("UPDATE person SET takes = NULL WHERE `key` = 'bo'");
  expect(await handOnOverdue(server.source, new Date('2026-03-03T12:01:00Z'))).toBe(1);
  expect((await lead(id)).owner).toBe('bo');
});

test('a lead that only the one who gave it back could get stays on the desk, and that is no failure', async () => {
  const [given, other] = [await bring(), await bring()];
  await server.source.query("UPDATE person SET takes = 0 WHERE `key` = 'ada'");
  await server.source.manager.update(LeadEntity, { id: given }, { givenBackBy: ['bo'] });
  expect(await handOnOverdue(server.source, new Date('2026-03-03T12:00:00Z'))).toBe(1);
  expect([(await lead(given)).place, (await lead(other)).owner]).toEqual(['queue', 'bo']);
  expect(await server.source.manager.count(FailureEntity)).toBe(0);
});

test('once the last of the team is full the others stay on the desk, oldest first, and that is no failure', async () => {
  const ids = [await bring(), await bring(), await bring()];
  await server.source.query("UPDATE person SET takes = IF(`key` = 'bo', 1, 0) WHERE `key` IN ('ada', 'bo')");
  expect(await handOnOverdue(server.source, new Date('2026-03-03T12:00:00Z'))).toBe(1);
  expect(await Promise.all(ids.map(async (id) => (await lead(id)).owner))).toEqual(['bo', null, null]);
  expect(await server.source.manager.count(FailureEntity)).toBe(0);
});
