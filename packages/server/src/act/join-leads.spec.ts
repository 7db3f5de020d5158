import type { JoinPreview, LeadDetail, LeadRow } from '@relvik/contracts';
import type { Agent } from 'supertest';
import { examine } from '../doctor/examine';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (values: object, owner: string | null = null): Promise<number> => {
  server.now = new Date(server.now.getTime() + 60_000);
  const made = await admin
    .post('/api/leads')
    .send({ values: { industry: 'Brewery', country: 'NO', ...values }, owner });
  return (made.body as { id: number }).id;
};
const detail = async (id: number) => (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
const valueOf = (lead: LeadDetail, field: string) => lead.values.find((one) => one.field === field)?.shown;
const noteCall = (id: number) =>
  admin.post(`/api/leads/${id}/activities`).send({ kind: 'call_taken', at: server.now.toISOString() });

test('correcting an e-mail to that of another open lead is a conflict that names it, on the lead and together', async () => {
  const one = await bring({ email: 'one@j.example' });
  const two = await bring({ email: 'tow@j.example', employees: 'ten' });
  const answer = await admin.patch(`/api/leads/${two}`).send({ version: 1, values: { email: 'one@j.example' } });
  expect(answer.body).toMatchObject({ status: 409, type: '/docs/errors.md#email-taken', other: one });
  expect(await detail(two)).toMatchObject({ version: 1 });
  // A rep who can't see the other lead is told nothing of it.
  const ofDee = await bring({ email: 'dee@j.example' }, 'dee');
  const dee = await server.as('dee');
  const blind = (await dee.patch(`/api/leads/${ofDee}`).send({ version: 1, values: { email: 'one@j.example' } }))
    .body as object;
  expect(blind).toMatchObject({ status: 409 });
  expect(blind).not.toHaveProperty('other');
});

test('a join is previewed; values, activities and history move, the older keeps its place, the younger’s id leads to it', async () => {
  const older = await bring({ email: 'older@j.example', name: 'Kari', employees: '5' }, 'bo');
  const younger = await bring({ email: 'younger@j.example', name: 'Kari N', deal_value: '700 EUR' }, 'dee');
  await noteCall(younger);
  const preview = (await admin.get(`/api/leads/${younger}/join/${older}`)).body as JoinPreview<LeadRow>;
  expect(preview).toMatchObject({ older: { id: older }, younger: { id: younger }, activities: 1 });
  expect(preview.fields).toEqual([
    { field: 'deal_value', older: null, younger: '700 EUR', takesYounger: true },
    { field: 'email', older: 'older@j.example', younger: 'younger@j.example', takesYounger: true },
    { field: 'name', older: 'Kari', younger: 'Kari N', takesYounger: true },
  ]);

  await admin
    .post(`/api/leads/${younger}/join`)
    .send({ other: older, take: ['email'] })
    .expect(200);
  const after = await detail(younger);
  expect(after).toMatchObject({ id: older, place: { kind: 'owner', rep: 'bo' }, joined: [{ id: younger }] });
  expect(['email', 'name', 'deal_value', 'employees'].map((field) => valueOf(after, field))).toEqual([
    'younger@j.example',
    'Kari',
    '700 EUR',
    '5',
  ]);
  expect(after.activities).toHaveLength(1);
  expect(after.history.some(({ reason }) => reason === `lead ${younger} joined`)).toBe(true);
  expect((await admin.get('/api/lead-count').query({ status: 'any' })).body).toEqual({ count: 1 });
  expect(await examine(server.source, server.now, false)).toEqual([]);
  // A further inquiry finds the one that is left.
  expect((await admin.post('/api/leads').send({ values: { email: 'younger@j.example' } })).body).toMatchObject({
    id: older,
    joined: true,
  });
});

test('a join is undone within ten days: both stand as they were, and what was given meanwhile stays', async () => {
  const older = await bring({ email: 'a@j.example', employees: '5' }, 'bo');
  const younger = await bring({ email: 'b@j.example', employees: '90' }, 'dee');
  await noteCall(younger);
  const before = [await detail(older), await detail(younger)] as const;
  await admin
    .post(`/api/leads/${older}/join`)
    .send({ other: younger, take: ['employees'] })
    .expect(200);
  const joined = await detail(older);
  await admin
    .patch(`/api/leads/${older}`)
    .send({ version: joined.version, values: { name: 'Kari' } })
    .expect(200);
  await admin.delete(`/api/joins/${younger}`).expect(200);
  const [one, two] = [await detail(older), await detail(younger)];
  expect([valueOf(one, 'employees'), valueOf(one, 'email'), valueOf(one, 'name'), one.activities]).toEqual([
    '5',
    'a@j.example',
    'Kari',
    [],
  ]);
  expect(two).toMatchObject({
    id: younger,
    stage: before[1].stage,
    place: before[1].place,
    values: before[1].values,
    activities: before[1].activities,
  });
  expect(await examine(server.source, server.now, false)).toEqual([]);

  await admin.post(`/api/leads/${older}/join`).send({ other: younger, take: [] }).expect(200);
  server.now = new Date(server.now.getTime() + 11 * 86_400_000);
  expect((await (await server.as('admin')).delete(`/api/joins/${younger}`)).body).toMatchObject({
    status: 409,
    type: '/docs/errors.md#cannot-undo',
  });
});

test('two opposite joins at once: one wins, the other is told, and nothing is lost', async () => {
  const ids = [await bring({ email: 'p@j.example' }), await bring({ email: 'q@j.example' })] as const;
  const answers = await Promise.all([
    admin.post(`/api/leads/${ids[0]}/join`).send({ other: ids[1], take: [] }),
    admin.post(`/api/leads/${ids[1]}/join`).send({ other: ids[0], take: [] }),
  ]);
  expect(answers.map(({ status }) => status).sort()).toEqual([200, 404]);
  expect(await server.source.manager.count(LeadEntity)).toBe(1);
  expect(await examine(server.source, server.now, false)).toEqual([]);
});
