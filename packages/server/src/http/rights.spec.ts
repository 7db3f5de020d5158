import type { Agent } from 'supertest';
import { hashPassword } from '../session/password';
import { PUBLISHED_PASSWORD } from '../session/published-password';
import { PersonEntity } from '../store/entity/people.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { SmallServer } from '../fixture/small-server.fixture';
import type { Role } from '@relvik/contracts';

let server: SmallServer;
const agents = new Map<string, Agent>();
beforeAll(async () => {
  server = await SmallServer.start();
  for (const [role, key] of [
    ['admin', 'admin'],
    ['manager', 'boss'],
    ['rep', 'ada'],
  ] as const)
    agents.set(role, await server.as(key));
});
afterAll(() => server.stop());

/** Who may call each endpoint, written down by hand. A new endpoint is added here too. */
const EXPECTED: readonly (readonly [who: string, endpoints: readonly string[]])[] = [
  ['anyone', ['get /api/demo', 'get /api/forms/:slug', 'post /api/forms/:slug', 'post /api/session']],
  [
    'key',
    [
      'post /api/intake/activities',
      'post /api/intake/leads',
      'post /api/intake/contacts',
      'post /api/intake/companies',
      'post /api/intake/deals',
    ],
  ],
  [
    'admin manager rep',
    [
      'get /api/tasks',
      'get /api/task-count',
      'post /api/tasks',
      'patch /api/tasks/:id',
      'post /api/tasks/:id/end',
      'post /api/tasks/:id/reopen',
      'get /api/proposals',
      'get /api/proposal-count',
      'get /api/proposals/:id',
      'post /api/proposals/decide',
      'post /api/proposals/undo',
      'post /api/leads/move',
      'post /api/leads/pin',
      'get /api/contact-count',
      'get /api/contacts',
      'post /api/contacts',
      'post /api/contacts/leads',
      'post /api/companies/leads',
      'get /api/contacts.csv',
      'get /api/contacts/:id',
      'patch /api/contacts/:id',
      'post /api/contacts/:id/said',
      'get /api/contacts/:id/join/:to',
      'post /api/contacts/:id/join',
      'delete /api/contacts/:id/joined',
      'get /api/company-count',
      'get /api/companies',
      'post /api/companies',
      'get /api/companies.csv',
      'get /api/companies/:id',
      'patch /api/companies/:id',
      'post /api/companies/:id/said',
      'get /api/companies/:id/join/:to',
      'post /api/companies/:id/join',
      'delete /api/companies/:id/joined',
      'get /api/deal-count',
      'get /api/deal-sums',
      'get /api/deals',
      'post /api/deals',
      'get /api/deals.csv',
      'get /api/deals/:id',
      'patch /api/deals/:id',
      'post /api/deals/:id/said',
      'post /api/deals/:id/stage',
      'post /api/companies/:id/known-by',
      'delete /api/companies/:id/known-by',
      'get /api/find',
      'get /api/home',
      'delete /api/joins/:id',
      'get /api/lead-count',
      'get /api/leads',
      'post /api/leads',
      'get /api/leads.csv',
      'get /api/leads/:id',
      'patch /api/leads/:id',
      'post /api/leads/:id/activities',
      'post /api/leads/:id/close',
      'post /api/leads/:id/accept',
      'post /api/leads/:id/give-back',
      'post /api/queues/:key/next',
      'get /api/leads/:id/curve',
      'post /api/leads/:id/join',
      'get /api/leads/:id/join/:to',
      'post /api/leads/:id/pick-up',
      'get /api/leads/:id/reasoning',
      'post /api/leads/:id/said',
      'post /api/leads/tags',
      'post /api/contacts/tags',
      'post /api/companies/tags',
      'post /api/deals/tags',
      'post /api/contacts/:id/activities',
      'post /api/companies/:id/activities',
      'post /api/deals/:id/activities',
      'delete /api/leads/:id/test',
      'get /api/people',
      'patch /api/presence',
      'delete /api/session',
      'get /api/session',
      'get /api/views',
      'post /api/views',
      'delete /api/views/:id',
      'put /api/views/:id',
      'get /api/wording',
    ],
  ],
  [
    'admin manager',
    [
      'get /api/bay',
      'get /api/fairness',
      'get /api/week',
      'get /api/concordance',
      'post /api/leads/:id/assign',
      'post /api/leads/give',
      'post /api/leads/give-preview',
      'post /api/contacts/:id/owner',
      'post /api/companies/:id/owner',
      'post /api/deals/:id/owner',
    ],
  ],
  [
    'admin',
    [
      'get /api/cycle',
      'get /api/activity-kinds',
      'post /api/activity-kinds',
      'patch /api/activity-kinds/:key',
      'get /api/background',
      'put /api/bay/alarm',
      'post /api/people',
      'post /api/people/:key/retire',
      'post /api/teams',
      'delete /api/teams/:key',
      'put /api/queues/:key',
      'delete /api/queues/:key',
      'get /api/charters',
      'get /api/charters/:id',
      'get /api/charters/:id/file',
      'get /api/charters/:id/patch/:to',
      'post /api/contacts/desk',
      'post /api/contacts/questions',
      'post /api/companies/desk',
      'post /api/companies/questions',
      'post /api/deals/desk',
      'post /api/deals/questions',
      'get /api/contacts/:id/record',
      'get /api/companies/:id/record',
      'get /api/deals/:id/record',
      'get /api/suggestions',
      'delete /api/suggestions/:id',
      'get /api/no-companies',
      'post /api/no-companies',
      'delete /api/no-companies',
      'get /api/option-lists',
      'get /api/ground-counts',
      'get /api/spellings',
      'post /api/spellings',
      'post /api/spellings/preview',
      'post /api/spellings/take-back',
      'post /api/spellings/file',
      'get /api/own-regions',
      'post /api/own-regions',
      'patch /api/own-regions/:code',
      'delete /api/own-regions/:code',
      'get /api/redraw',
      'post /api/redraw',
      'post /api/redraw/undo',
      'put /api/option-lists/:key',
      'post /api/drafts',
      'delete /api/drafts/:id',
      'patch /api/drafts/:id',
      'put /api/drafts/:id',
      'post /api/drafts/:id/enact',
      'post /api/drafts/:id/open',
      'get /api/drafts/:id/up-to-date',
      'post /api/drafts/close',
      'post /api/drafts/import',
      'post /api/failures/again',
      'get /api/fields',
      'post /api/fields',
      'patch /api/fields/:key',
      'get /api/imports',
      'get /api/imports/:id',
      'post /api/imports/:id/undo',
      'get /api/intake',
      'post /api/intake/activities/csv',
      'post /api/intake/csv',
      'patch /api/intake/forms/:slug',
      'post /api/intake/keys',
      'delete /api/intake/keys/:id',
      'get /api/streams/scheduled',
      'get /api/streams/:key/run-preview',
      'post /api/streams/:key/run',
      'post /api/stream-runs/:id/stop',
      'patch /api/intake/by-hand',
      'patch /api/intake/keys/:id',
      'post /api/jobs/:id/cancel',
      'get /api/jobs/latest',
      'get /api/journal',
      'get /api/lead-names',
      'get /api/leads/:id/record',
      'post /api/next-leads',
      'post /api/outbox/:id/again',
      'patch /api/people/:key',
      'patch /api/teams/:key',
      'put /api/skills/:key',
      'delete /api/skills/:key',
      'get /api/holiday-places',
      'get /api/pipelines',
      'get /api/population',
      'post /api/population/desk',
      'post /api/population/lookups',
      'post /api/population/questions',
      'get /api/population/version',
      'get /api/rates',
      'post /api/rates',
      'put /api/rates/:currency/:from',
      'get /api/rule-counts',
      'get /api/said',
      'get /api/score-sets/:set/distribution',
      'get /api/unjudged',
      'post /api/unjudged',
      'get /api/world',
    ],
  ],
];

test('the endpoints are those of the table, no more and no less', () => {
  const said = ({ who }: { readonly who: readonly string[] | string }) =>
    typeof who === 'string' ? who : [...who].join(' ');
  const now = server.service.endpoints.map((one) => `${said(one)}: ${one.method} ${one.path}`).sort();
  expect(now).toEqual(EXPECTED.flatMap(([who, list]) => list.map((one) => `${who}: ${one}`)).sort());
});

const ROLES = ['admin', 'manager', 'rep'] as const;

test('every endpoint, tried as every role and as nobody, lets in exactly those of the table', async () => {
  const seen: string[] = [];
  const wrong: string[] = [];
  for (const [who, list] of EXPECTED) {
    for (const one of list) {
      // Signing out would end the sessions that the rest of the table uses: it has its own test.
      if (one === 'delete /api/session') continue;
      const [method, path] = one.split(' ') as ['get' | 'post' | 'put' | 'patch' | 'delete', string];
      const url = path
        .replaceAll(/:(id|to)/g, '999999')
        .replace(':from', '2026-01-01')
        .replaceAll(/:\w+/g, 'none');
      for (const role of ROLES) {
        const { status } = await (agents.get(role) as Agent)[method](url);
        const isIn = who === 'anyone' || who.split(' ').includes(role);
        const right = who === 'key' ? status === 401 : isIn ? status !== 401 && status !== 403 : status === 403;
        if (!right) wrong.push(`${one} as ${role}: ${status}`);
      }
      const { status } = await server.anyone[method](url);
      if ((status === 401) !== (who !== 'anyone')) wrong.push(`${one} as nobody: ${status}`);
      seen.push(one);
    }
  }
  expect(wrong).toEqual([]);
  expect(seen.length).toBeGreaterThan(80);
});

test('without the page’s token a session changes nothing; after signing out it is none', async () => {
  const agent = await server.as('bo');
  expect(
    (
      await agent
        .post('/api/leads')
        .set('X-XSRF-TOKEN', 'forged')
        .send({ values: { email: 'x@x.example' } })
    ).body,
  ).toMatchObject({ status: 403 });
  await agent.delete('/api/session').expect(204);
  await agent.get('/api/session').expect(401);
});

test('session cookies can’t be read by scripts, and wrong sign-ins say no more than that', async () => {
  const right = await server.anyone
    .post('/api/session')
    .send({ email: 'ADA@relvik.example', password: 'a word to pass' });
  expect(String(right.headers['set-cookie'])).toMatch(/relvik_session=[^;]+; Path=\/; HttpOnly; SameSite=Lax/);
  const wrong = await server.anyone.post('/api/session').send({ email: 'ada@relvik.example', password: 'x' });
  const unknown = await server.anyone.post('/api/session').send({ email: 'nobody@relvik.example', password: 'x' });
  expect([wrong.status, wrong.body]).toEqual([401, unknown.body]);
  expect((await server.anyone.post('/api/session').send({ email: 'a' })).body).toMatchObject({
    status: 422,
    errors: [{ path: '/password' }],
  });
});

test('the published password of the demo opens nothing by another name than loopback, or through a proxy', async () => {
  await server.source.manager.update(
    PersonEntity,
    { key: 'dee' },
    { password: await hashPassword(PUBLISHED_PASSWORD) },
  );
  const tried = async (headers: Record<string, string>) =>
    (
      await server.anyone
        .post('/api/session')
        .set(headers)
        .send({ email: 'dee@relvik.example', password: PUBLISHED_PASSWORD })
    ).status;
  expect(await tried({})).toBe(200);
  expect(await tried({ Host: 'localhost:4400' })).toBe(200);
  expect(await tried({ Host: '[::1]:4400' })).toBe(200);
  const elsewhere: Record<string, string>[] = [
    { Host: 'relvik.example' },
    { Host: '10.0.0.7:4400' },
    { Host: '127.0.0.1.relvik.example' },
    { 'X-Forwarded-For': '127.0.0.1' },
    { Forwarded: 'for=127.0.0.1' },
    { Via: '1.1 gate' },
  ];
  for (const headers of elsewhere) expect([headers, await tried(headers)]).toEqual([headers, 403]);
});

test('sight: a rep sees own, team and queue, edits only own; a manager hands on inside the team; the rest is not there', async () => {
  const admin = agents.get('admin') as Agent;
  const bring = async (email: string, owner: string | null, more: object = {}) => {
    const made = await admin.post('/api/leads').send({ values: { email, industry: 'Brewery', ...more }, owner });
    return (made.body as { id: number }).id;
  };
  const ofBo = await bring('of-bo@s.example', 'bo');
  const ofDee = await bring('of-dee@s.example', 'dee');
  const queued = await bring('queued@s.example', null, { country: 'DE' });
  const status = async (who: Role, id: number) => (await (agents.get(who) as Agent).get(`/api/leads/${id}`)).status;
  const bo = await server.as('bo');

  expect([await status('rep', ofBo), await status('rep', ofDee), await status('rep', queued)]).toEqual([200, 404, 404]);
  expect((await bo.get(`/api/leads/${queued}`)).status).toBe(200);
  expect((await bo.get('/api/leads')).body).toMatchObject({
    rows: expect.arrayContaining([expect.objectContaining({ id: queued })]) as object[],
  });
  expect(await status('manager', ofDee)).toBe(404);

  const edit = (agent: Agent, id: number) =>
    agent.patch(`/api/leads/${id}`).send({ version: 1, values: { employees: '60' } });
  expect((await edit(agents.get('rep') as Agent, ofBo)).status).toBe(403);
  expect((await edit(bo, ofBo)).status).toBe(200);
  expect((await edit(bo, ofBo)).body).toMatchObject({ status: 409 });

  const assign = (who: Role, id: number, rep: string) =>
    (agents.get(who) as Agent).post(`/api/leads/${id}/assign`).send({ rep });
  expect((await assign('manager', ofBo, 'dee')).body).toMatchObject({ status: 422, errors: [{ path: '/rep' }] });
  expect((await assign('manager', ofBo, 'cai')).body).toMatchObject({
    status: 422,
    errors: [{ message: 'Cai Morgan may not take leads: has no seat' }],
  });
  expect((await assign('manager', ofBo, 'ada')).body).toMatchObject({ place: { kind: 'owner', rep: 'ada' } });
  expect((await assign('admin', ofDee, 'bo')).status).toBe(200);
});

test('a rep is told that a colleague was not available, not why', async () => {
  const admin = agents.get('admin') as Agent;
  const { id } = (
    await admin.post('/api/leads').send({ values: { email: 'skip@s.example', industry: 'Brewery', country: 'NO' } })
  ).body as { id: number };
  const { owner } = await server.source.manager.findOneByOrFail(LeadEntity, { id });
  await server.source.query(`UPDATE rota SET last_served = 'ada' WHERE route = 'north'`);
  const next = (
    await admin.post('/api/leads').send({ values: { email: 'skip2@s.example', industry: 'Brewery', country: 'NO' } })
  ).body as { id: number };
  const told = async (agent: Agent) =>
    (
      (await agent.get(`/api/leads/${next.id}/reasoning`)).body as {
        then: { decision: { skipped: { rep: string; exclusion: { why: string } }[] } };
      }
    ).then.decision.skipped;
  expect(owner).not.toBeNull();
  expect(await told(admin)).toContainEqual({ rep: 'cai', exclusion: { why: 'may-not-take-leads' } });
  expect(await told(await server.as('bo'))).toContainEqual({ rep: 'cai', exclusion: { why: 'not-available' } });
});
