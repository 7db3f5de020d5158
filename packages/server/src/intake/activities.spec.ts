import type { ActivityOutcome, Curve, LeadDetail, LeadPage, Reasoning } from '@relvik/contracts';
import { type Charter, readCharter } from '@relvik/core';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { passTime, scoresAsOf } from '../job/pass-time';
import { DecisionEntity } from '../store/entity/history.entity';
import { LeadEntity } from '../store/entity/lead.entity';

const DAY = 86_400_000;

let server: SmallServer;
let admin: Agent;
let secret: string;

/** Clicks on prices give 20, halved every ten days; silence of thirty days costs 5. */
function fading(charter: Charter): Charter {
  const json = structuredClone(charter) as unknown as { scoreSets: { signals: object[] }[] };
  const common = { axis: 'engagement', on: true };
  json.scoreSets[0]!.signals.push(
    {
      ...common,
      kind: 'activity',
      key: 'prices',
      name: 'Prices looked at',
      points: 20,
      activity: 'page_visited',
      having: [{ property: 'page', test: 'contains', values: ['PRICING'] }],
      fade: { kind: 'half-life', days: 10 },
    },
    {
      ...common,
      kind: 'activity',
      key: 'first-call',
      name: 'First call',
      points: 7,
      activity: 'call_taken',
      times: 'first',
    },
  );
  const reading = readCharter(json);
  if (!reading.ok) throw new Error(JSON.stringify(reading.problems));
  return reading.charter;
}

beforeEach(async () => {
  server = await SmallServer.start(fading);
  admin = await server.as('admin');
  const made = await admin.post('/api/intake/keys').send({ name: 'Site', fields: ['email', 'industry'] });
  ({ secret } = made.body as { secret: string });
});
afterEach(() => server.stop());

const bring = async (email: string) =>
  (
    (
      await server.anyone
        .post('/api/intake/leads')
        .set('Authorization', `Bearer ${secret}`)
        .send({ values: { email, industry: 'Brewery' } })
    ).body as { id: number }
  ).id;
const send = async (...activities: object[]) => {
  const answer = await server.anyone
    .post('/api/intake/activities')
    .set('Authorization', `Bearer ${secret}`)
    .send({ activities });
  return { status: answer.status, body: answer.body as ActivityOutcome };
};
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const engagementOf = async (id: number) => (await leadOf(id)).engagement;
const at = (daysAgo: number) => new Date(server.now.getTime() - daysAgo * DAY).toISOString();
const prices = { kind: 'page_visited', properties: { page: '/en/Pricing' } };

test('what people do comes in by e-mail or id, in any order; the same event counts once, and points come at once', async () => {
  const id = await bring('ann@a.example');
  const first = await send(
    { ...prices, email: 'ANN@a.example', event: 'e2', at: at(10) },
    { ...prices, lead: id, event: 'e1', at: at(20) },
    { kind: 'page_visited', lead: id, properties: { page: '/about' } },
  );
  expect(first).toEqual({ status: 200, body: { accepted: 3, repeated: 0, refused: [] } });
  expect(await engagementOf(id)).toBe(15);
  const again = await send({ ...prices, lead: id, event: 'e1', at: at(0) }, { ...prices, lead: id, event: 'e3' });
  expect(again.body).toEqual({ accepted: 1, repeated: 1, refused: [] });
  expect(await engagementOf(id)).toBe(35);
  // Of several the first alone, whenever it is told.
  await send({ kind: 'call_taken', lead: id, at: at(1) }, { kind: 'call_taken', lead: id, at: at(2) });
  expect(await engagementOf(id)).toBe(42);
});

test('two who send the same event at the same moment leave it once', async () => {
  const id = await bring('twin@a.example');
  const answers = await Promise.all(
    Array.from({ length: 6 }, () => send({ ...prices, lead: id, event: 'same', at: at(0) })),
  );
  expect(answers.map(({ status }) => status)).toEqual(Array.from({ length: 6 }, () => 200));
  expect(answers.reduce((sum, { body }) => sum + body.accepted, 0)).toBe(1);
  expect(await engagementOf(id)).toBe(20);
});

test('what can’t be taken in is named by place and field, and the rest is there', async () => {
  const id = await bring('bad@a.example');
  const { body } = await send(
    { kind: 'danced', lead: id },
    { kind: 'page_visited', lead: id, at: 'yesterday' },
    { kind: 'page_visited', lead: id, at: at(-1) },
    { kind: 'page_visited', lead: id, email: 'bad@a.example' },
    { kind: 'page_visited', email: 'nobody@a.example' },
    { ...prices, lead: id },
  );
  expect(body).toMatchObject({
    accepted: 1,
    refused: [
      { row: 1, field: 'kind', message: 'no such kind of activity: danced' },
      { row: 2, field: 'at' },
      { row: 3, field: 'at', message: 'lies in the future' },
      { row: 4, field: 'email' },
      { row: 5, field: 'email', message: 'is of no lead or contact here: send it first' },
    ],
  });
  const broken = await send({ kind: 'page_visited', lead: id, properties: { 'No Key': 'x' } });
  expect([broken.status, broken.body]).toMatchObject([422, { errors: [{ path: '/activities/0/properties' }] }]);
});

test('a file of activities: other columns are properties, and rows that can’t be taken in are named', async () => {
  const id = await bring('file@a.example');
  const csv = (text: string) => admin.post('/api/intake/activities/csv').set('Content-Type', 'text/csv').send(text);
  const answer = await csv(
    `kind,at,email,event,Page\npage_visited,${at(0)},file@a.example,f1,/pricing\nhopped,,file@a.example,,\n`,
  );
  expect(answer.body).toMatchObject({ accepted: 1, repeated: 0, refused: [{ row: 2, field: 'kind' }] });
  expect(await engagementOf(id)).toBe(20);
  // A spreadsheet is not as strict as a key's schema: what would be cut off or is no number is refused by row, and the rest taken.
  const loose = await csv(
    `kind,lead,event\npage_visited,seven,g1\npage_visited,${id},${'e'.repeat(121)}\npage_visited,${id},g3\n`,
  );
  expect(loose.body).toMatchObject({
    accepted: 1,
    refused: [
      { row: 1, field: 'lead', message: 'is no id of a lead' },
      { row: 2, field: 'event', message: 'has more than 120 characters' },
    ],
  });
  expect((await csv('at,email\n,x@a.example\n')).body).toMatchObject({
    status: 422,
    errors: [{ path: '/header', message: 'needs a column kind' }],
  });
  expect((await csv('kind,1st\nx,y\n')).body).toMatchObject({ status: 422, errors: [{ path: '/header/1' }] });
});

test('noted by hand by who may edit the lead; a kind that the admin adds is known at once, and a retired one no more', async () => {
  const id = await bring('hand@a.example');
  const note = (agent: Agent, kind: string) => agent.post(`/api/leads/${id}/activities`).send({ kind });
  expect((await note(admin, 'site_walk')).body).toMatchObject({ status: 422, errors: [{ path: '/kind' }] });
  const added = await admin
    .post('/api/activity-kinds')
    .send({ key: 'site_walk', name: 'Walk over the site', by: 'them' });
  expect(added.status).toBe(201);
  expect((await note(admin, 'site_walk')).status).toBe(201);
  expect((await note(await server.as('dee'), 'site_walk')).status).toBe(404);
  const { activities } = (await admin.get(`/api/leads/${id}`)).body as LeadDetail;
  expect(activities.map(({ kind }) => kind)).toEqual(['site_walk']);
  await admin.patch('/api/activity-kinds/site_walk').send({ name: 'Walk', retired: true });
  expect((await note(admin, 'site_walk')).body).toMatchObject({ errors: [{ message: 'is retired: site_walk' }] });
  expect((await admin.post('/api/activity-kinds').send({ key: 'mail_sent', name: 'x', by: 'us' })).status).toBe(422);
});

test('time passes: a score that fades is written when it changes, and not before; the list says as of when it is right', async () => {
  const id = await bring('fade@a.example');
  await send({ ...prices, lead: id });
  const { changesAt } = await leadOf(id);
  // 20 · 2^(−h/240) is shown as 19 once it is below 19.5: in the ninth hour.
  expect(changesAt).toEqual(new Date(server.now.getTime() + 9 * 3_600_000));
  expect(await passTime(server.source, new Date((changesAt?.getTime() ?? 0) - 1))).toBe(0);

  server.now = new Date((changesAt?.getTime() ?? 0) + 90_000);
  const asOf = async () => ((await admin.get('/api/leads')).body as LeadPage).asOf;
  expect(await asOf()).toBe(changesAt?.getTime());
  const before = await server.source.manager.count(DecisionEntity);
  const { version } = await leadOf(id);
  expect(await passTime(server.source, server.now)).toBe(1);
  expect(await asOf()).toBe(server.now.getTime());
  expect(await leadOf(id)).toMatchObject({ engagement: 19, version, decidedAt: server.now });
  // Only a number changed: no decision is kept for that, and the account is right all the same.
  expect(await server.source.manager.count(DecisionEntity)).toBe(before);
  const { then, now, rescored } = (await admin.get(`/api/leads/${id}/reasoning`)).body as Reasoning;
  expect(rescored).toMatchObject({ at: server.now.getTime(), charter: { number: 1 } });
  expect(then.decision.score.engagement).toMatchObject({ score: 19 });
  expect(now.decision.score).toEqual(then.decision.score);
  expect(await scoresAsOf(server.source.manager, server.now)).toEqual(server.now);
});

test('what time changes beyond a number is decided in full: grade, gate, history', async () => {
  const id = await bring('sink@a.example');
  for (let i = 0; i < 3; i += 1) await send({ ...prices, lead: id });
  expect(await leadOf(id)).toMatchObject({ engagement: 60, engagementBand: 'active' });
  server.now = new Date(server.now.getTime() + 30 * DAY);
  expect(await passTime(server.source, server.now)).toBe(1);
  expect(await leadOf(id)).toMatchObject({ engagement: 8, engagementBand: 'quiet' });
  const [last] = await server.source.manager.find(DecisionEntity, {
    where: { record: id },
    order: { id: 'DESC' },
    take: 1,
  });
  expect(last).toMatchObject({ occasion: 'time', grade: 'b/quiet' });
  // Thirty days on, the session is over.
  const again = await server.as('admin');
  const { history } = (await again.get(`/api/leads/${id}`)).body as LeadDetail;
  expect(history[0]).toMatchObject({ field: 'grade', from: 'b/active', to: 'b/quiet' });
  // The decision before was at 40: the third visit moved a number only. Three times 20 are 7.5 three half-lives later.
  const moved = ((await again.get(`/api/leads/${id}/reasoning`)).body as Reasoning).gradeMoved;
  expect(moved).toEqual({
    at: server.now.getTime(),
    from: 'b/active',
    occasion: 'time',
    changes: [{ signal: 'prices', axis: 'engagement', by: -32.5 }],
  });
});

test('two servers that look for what is due decide each lead once', async () => {
  for (let i = 0; i < 12; i += 1) await send({ ...prices, lead: await bring(`n${i}@a.example`) });
  server.now = new Date(server.now.getTime() + 2 * DAY);
  const done = await Promise.all([passTime(server.source, server.now), passTime(server.source, server.now)]);
  expect(done[0] + done[1]).toBe(12);
});

test('the curve goes from arrival to what becomes of it if nothing happens', async () => {
  const id = await bring('curve@a.example');
  await send({ ...prices, lead: id });
  server.now = new Date(server.now.getTime() + 10 * DAY);
  const { now, points } = (await (await server.as('admin')).get(`/api/leads/${id}/curve`)).body as Curve;
  expect(points.filter((point) => point.at <= now).map(({ engagement }) => engagement)).toEqual([
    20, 19, 17, 16, 15, 14, 13, 12, 11, 11, 10,
  ]);
  expect(points.at(-1)).toEqual({ at: now + 60 * DAY, fit: points[0]?.fit, engagement: 0 });
});

test('a key says by id only what happens with leads that it sent; by e-mail it may name any', async () => {
  const own = await bring('own@a.example');
  const { id: other } = (await admin.post('/api/leads').send({ values: { email: 'other@a.example' } })).body as {
    id: number;
  };
  const visit = { kind: 'page_visited' };
  const answers = await send({ ...visit, lead: own }, { ...visit, lead: other }, { ...visit, lead: 999_999 });
  // What is not its own is the same to it as what is not there.
  expect(answers.body).toMatchObject({
    accepted: 1,
    refused: [2, 3].map((row) => ({ row, field: 'lead', message: 'is of no lead here: send the lead first' })),
  });
  expect((await send({ ...visit, email: 'other@a.example' })).body).toMatchObject({ accepted: 1, refused: [] });
  // An inquiry that joins a known lead makes it one that the key sent.
  expect(await bring('other@a.example')).toBe(other);
  expect((await send({ ...visit, lead: other })).body).toMatchObject({ accepted: 1 });
});
