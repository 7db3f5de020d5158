import type {
  Accepted,
  ImportReport,
  ImportState,
  LeadDetail,
  MadeKey,
  Reasoning,
  WordingDocument,
} from '@relvik/contracts';
import type { Decision, Handling } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { importFiles } from '../job/import-files';
import { FormEntity } from '../store/entity/intake.entity';
import { DecisionEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

/** Of whom a gate makes a qualified lead, which a route gives to the team. */
const GOOD = { industry: 'Brewery', employees: '300', country: 'Norway' };

const lead = (id: number): Promise<LeadEntity> => server.source.manager.findOneByOrFail(LeadEntity, { id });
const decisions = (record: number): Promise<number> => server.source.manager.countBy(DecisionEntity, { record });
const decisionOn = async (id: number): Promise<Decision> =>
  ((await admin.get(`/api/leads/${id}/reasoning`)).body as Reasoning).then.decision;

/** Sends leads with a new key whose leads are handled so. */
async function sender(handling: Handling): Promise<(email: string, more?: object) => Promise<Accepted>> {
  const made = await admin
    .post('/api/intake/keys')
    .send({ name: handling, fields: ['email', 'deal_value', ...Object.keys(GOOD)] });
  const { id, secret } = made.body as MadeKey;
  await admin.patch(`/api/intake/keys/${id}`).send({ handling }).expect(204);
  return async (email, more = GOOD) => {
    const sent = server.anyone.post('/api/intake/leads').set('Authorization', `Bearer ${secret}`);
    return (await sent.send({ values: { email, ...more } }).expect(201)).body as Accepted;
  };
}

test('a key decides all, or scores and grades only; what it did stands in the reasoning, and the gate acts on the next occasion', async () => {
  const all = await (await sender('decide'))('a@firm.example');
  expect(await lead(all.id)).toMatchObject({ stage: 'qualified', place: 'owner' });
  const told = await server.source.manager.count(OutboxEntity);

  const scored = await (await sender('score'))('b@firm.example', { ...GOOD, deal_value: 'many' });
  expect(scored.warnings).toMatchObject([{ field: 'deal_value', raw: 'many' }]);
  const one = await lead(scored.id);
  expect(one).toMatchObject({ stage: 'new', place: 'not-handed-over', route: null });
  expect(one.fit).not.toBeNull();
  expect(await server.source.manager.count(OutboxEntity)).toBe(told);
  expect(await decisionOn(scored.id)).toMatchObject({ handling: 'score', routing: null });

  const { version } = one;
  await admin
    .patch(`/api/leads/${scored.id}`)
    .send({ version, values: { employees: 301, deal_value: '' } })
    .expect(200);
  expect(await lead(scored.id)).toMatchObject({ stage: 'qualified', place: 'owner' });
});

test('a known lead is kept as it is: it gets the values, and score, stage and owner stay until something else happens', async () => {
  const first = await (await sender('score'))('a@firm.example', { industry: 'Brewery' });
  const before = await lead(first.id);
  const again = await (await sender('keep'))('a@firm.example');
  expect(again).toMatchObject({ id: first.id, joined: true });
  const kept = await lead(first.id);
  const { stage, place, fit, rankOrder, decidedAt, looks } = before;
  expect(kept).toMatchObject({ stage, place, fit, rankOrder, decidedAt, looks });
  expect(await decisions(first.id)).toBe(1);
  const detail = (await admin.get(`/api/leads/${first.id}`)).body as LeadDetail;
  expect(detail.values.find(({ field }) => field === 'employees')).toMatchObject({ shown: '300' });

  // A new lead has no score to keep: it is scored, and goes no further.
  const fresh = await (await sender('keep'))('new@firm.example');
  expect(await lead(fresh.id)).toMatchObject({ stage: 'new', place: 'not-handed-over' });
  expect((await lead(fresh.id)).fit).not.toBeNull();
  expect((await decisionOn(fresh.id)).handling).toBe('keep');
});

test('what waits in the bay or is with someone stays there while it is only scored', async () => {
  const send = await sender('decide');
  await server.source.query("UPDATE person SET takes = 0 WHERE `key` IN ('ada', 'bo')");
  const waiting = await send('a@firm.example');
  expect((await lead(waiting.id)).place).toBe('bay');
  const edit = async (id: number, values: object, handling: Handling): Promise<LeadEntity> => {
    const { version } = await lead(id);
    await admin.patch(`/api/leads/${id}`).send({ version, values, handling }).expect(200);
    return lead(id);
  };
  expect(await edit(waiting.id, { employees: 'some' }, 'score')).toMatchObject({ place: 'bay', stage: 'qualified' });
  expect((await lead(waiting.id)).bay).toMatchObject({ why: 'nobody-free' });
  expect(await edit(waiting.id, { employees: 'several' }, 'decide')).toMatchObject({ bay: { why: 'unjudged' } });
});

test('forms, files and what is typed in have switches of their own; each entry and edit may say otherwise', async () => {
  await admin.patch('/api/intake/forms/ask').send({ handling: 'score' }).expect(204);
  expect((await server.source.manager.findOneByOrFail(FormEntity, { slug: 'ask' })).handling).toBe('score');

  const staged = await admin
    .post('/api/intake/csv?kind=lead&handling=score')
    .set('Content-Type', 'text/csv')
    .send('E-mail,Industry,Employees,owner\na@firm.example,Brewery,300,Dee Winslade\nb@firm.example,Brewery,300,');
  await importFiles(server.source, () => server.now);
  const report = (await admin.get(`/api/imports/${(staged.body as ImportState).id}`)).body as ImportReport;
  expect(report).toMatchObject({ accepted: 2, handling: 'score' });
  const leads = await server.source.manager.find(LeadEntity, { order: { email: 'ASC' } });
  expect(leads.map(({ stage, owner, place }) => [stage, owner, place])).toEqual([
    ['new', 'dee', 'owner'],
    ['new', null, 'not-handed-over'],
  ]);

  await admin.patch('/api/intake/by-hand').send({ handling: 'score' }).expect(204);
  expect(((await admin.get('/api/wording')).body as WordingDocument).byHand).toBe('score');
  const type = async (email: string, more: object): Promise<LeadEntity> => {
    const made = await admin.post('/api/leads').send({ values: { email, ...GOOD }, ...more });
    return lead((made.body as Accepted).id);
  };
  const typed = await type('c@firm.example', {});
  expect(typed.stage).toBe('new');
  expect((await type('d@firm.example', { handling: 'decide' })).stage).toBe('qualified');
  const edit = (body: object) => admin.patch(`/api/leads/${typed.id}`).send({ version: typed.version, ...body });
  await edit({ values: { employees: 400 } }).expect(200);
  expect(await lead(typed.id)).toMatchObject({ stage: 'new' });
  const wrong = await edit({ values: { employees: 500 }, handling: 'route' });
  expect(wrong.body).toMatchObject({ status: 422, errors: [{ path: '/handling' }] });
});
