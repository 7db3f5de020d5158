import type { CharterState, Home, Job, LeadDetail, LeadPage, Reasoning } from '@relvik/contracts';
import { BY_RULE, type Charter, renameBand, takeOutBand } from '@relvik/core';
import type { Agent } from 'supertest';
import { withPoints, withSets } from '../../../core/src/charter/changed-charter.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { ChangeEntity, DecisionEntity } from '../store/entity/history.entity';
import { JobEntity } from '../store/entity/charter.entity';
import { FieldEntity } from '../store/entity/catalogue.entity';
import { passTime } from '../job/pass-time';
import { finishRescores } from '../job/rescore';

const DAY = 86_400_000;

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start();
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (email: string, values: object = {}) =>
  ((await admin.post('/api/leads').send({ values: { email, ...values } })).body as { id: number }).id;
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });

async function drawn(change: (charter: Charter) => Charter): Promise<NonNullable<CharterState['draft']>> {
  const begun = (await admin.post('/api/drafts').send({ name: 'Next' })).body as CharterState;
  const draft = begun.draft as NonNullable<CharterState['draft']>;
  const saved = (
    await admin.put(`/api/drafts/${draft.id}`).send({ version: draft.version, charter: change(draft.charter) })
  ).body as CharterState;
  return saved.draft as NonNullable<CharterState['draft']>;
}

async function rescored(): Promise<Job> {
  await finishRescores(server.source, () => server.now);
  return (await admin.get('/api/jobs/latest')).body as Job;
}

test('a draft acts on nothing until it is enacted; then every lead is scored and graded by it, and stays where it is', async () => {
  const id = await bring('a@l.example', { industry: 'Golf course', employees: '60', country: 'NO' });
  const before = await leadOf(id);
  expect(before).toMatchObject({ fit: 74, stage: 'qualified', charter: 1 });
  const draft = await drawn((charter) =>
    withSets(charter, (set) => ({ ...set, grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [75, 90] } } })),
  );
  expect(await leadOf(id)).toMatchObject({ fit: 74, fitBand: 'a', engagementBand: 'quiet', charter: 1 });

  const enacted = await admin
    .post(`/api/drafts/${draft.id}/enact`)
    .send({ version: draft.version, reason: 'a finer cut' });
  expect([enacted.status, enacted.body]).toMatchObject([202, { state: 'running', charter: 2, total: 1 }]);
  expect(await rescored()).toMatchObject({ state: 'done', done: 1, total: 1 });
  await server.deliver();
  const { notices } = (await admin.get('/api/home')).body as Home;
  expect(notices[0]).toMatchObject({ kind: 'rescored', record: null, name: 'Charter 2' });
  const after = await leadOf(id);
  expect(after).toMatchObject({
    fitBand: 'c',
    engagementBand: 'quiet',
    verdict: 'no-action',
    charter: 2,
    stage: before.stage,
    owner: before.owner,
  });
  const decisions = await server.source.manager.find(DecisionEntity, { where: { record: id }, order: { id: 'ASC' } });
  expect(decisions.map(({ occasion, charter }) => [occasion, charter])).toEqual([
    ['created', 1],
    ['enacted', 2],
  ]);
});

test('a band that is renamed changes no lead: nothing in its history, another name in lists', async () => {
  const id = await bring('r@l.example', { industry: 'Golf course', employees: '60', country: 'NO' });
  const before = await leadOf(id);
  const changesOf = () => server.source.manager.count(ChangeEntity, { where: { record: id } });
  const noted = await changesOf();
  const draft = await drawn((charter) =>
    withSets(charter, (set) => renameBand(renameBand(set, 'fit', 'a', 'Top'), 'engagement', 'quiet', 'still')),
  );
  await admin.post(`/api/drafts/${draft.id}/enact`).send({ version: draft.version, reason: 'plainer names' });
  expect(await rescored()).toMatchObject({ state: 'done', changed: 0 });
  const { fitBand, engagementBand, verdict, stage, owner } = before;
  expect(await leadOf(id)).toMatchObject({ fitBand, engagementBand, verdict, stage, owner, charter: 2 });
  expect(await changesOf()).toBe(noted);
  const { rows } = (await admin.get('/api/leads').query({ find: 'r@l.example' })).body as LeadPage;
  expect(rows).toMatchObject([{ grade: 'Top still' }]);
  // Lists and history know bands by key.
  expect((await admin.get('/api/lead-count').query({ fit: 'a', find: 'r@l.example' })).body).toEqual({ count: 1 });
  expect((await admin.get('/api/leads').query({ fit: 'Top' })).status).toBe(422);
});

test('a lead that an earlier charter graded keeps the name that its band had there', async () => {
  const id = await bring('o@l.example', { industry: 'Golf course', employees: '60', country: 'NO' });
  const fitBand = (await leadOf(id)).fitBand ?? '';
  const draft = await drawn((charter) => {
    const [set] = charter.scoreSets;
    const to = { scores: 'b', verdicts: 'b', conditions: ['b'] };
    return takeOutBand(charter, set?.key ?? '', 'fit', fitBand, to) ?? charter;
  });
  const enact = { version: draft.version, reason: 'two bands', scope: { which: 'new' } };
  await admin.post(`/api/drafts/${draft.id}/enact`).send(enact);
  const { rows } = (await admin.get('/api/leads').query({ find: 'o@l.example' })).body as LeadPage;
  expect(rows).toMatchObject([{ grade: 'A quiet' }]);
});

test('a rescore goes on after a stop, passes over what was decided since, and a newer charter cancels it', async () => {
  for (let i = 0; i < 5; i += 1) await bring(`n${i}@l.example`, { industry: 'Golf course' });
  const draft = await drawn((charter) => withPoints(charter, 'trade', 70));
  await admin.post(`/api/drafts/${draft.id}/enact`).send({ version: draft.version, reason: 'x' });
  await rescored();
  // As if the process had stopped in the middle, and someone had worked on a lead meanwhile.
  const ids = (await server.source.manager.find(LeadEntity, { order: { id: 'ASC' } })).map((lead) => lead.id);
  const job = await server.source.manager.findOneByOrFail(JobEntity, { charter: 2 });
  await server.source.manager.update(JobEntity, job.id, { state: 'running', cursor: ids[1] ?? 0, done: 2 });
  await server.source.manager.update(LeadEntity, ids, { charter: 1 });
  await server.source.manager.update(LeadEntity, { id: ids[4] ?? 0 }, { charter: 2 });
  expect(await rescored()).toMatchObject({ state: 'done', done: 5 });
  const charters = (await server.source.manager.find(LeadEntity, { order: { id: 'ASC' } })).map((lead) => lead.charter);
  expect(charters).toEqual([1, 1, 2, 2, 2]);
  // Where nothing but numbers changed no decision is kept, but the reasoning is that of the charter that gave them.
  const { then, rescored: since } = (await admin.get(`/api/leads/${ids[3] ?? 0}/reasoning`)).body as Reasoning;
  expect([since?.charter.number, then.decision.score.fit]).toMatchObject([2, { score: 0 }]);

  await server.source.manager.update(JobEntity, job.id, { state: 'running', charter: 1 });
  expect(await rescored()).toMatchObject({ state: 'cancelled' });
});

/** Engagement 20 for a click, which ends after ten days; a gate for whoever is active. */
const fading = (charter: Charter): Charter => ({
  ...withSets(charter, (set) => ({
    ...set,
    signals: [
      ...set.signals.filter(({ axis }) => axis === 'fit'),
      {
        kind: 'activity',
        key: 'clicked',
        name: 'Clicked',
        axis: 'engagement',
        on: true,
        points: 20,
        group: null,
        activity: 'mail_clicked',
        having: [],
        times: 'each',
        window: 10,
        most: null,
        fade: null,
        cap: null,
      },
    ],
  })),
  gates: [],
});
const ASKING_LITTLE = {
  ...{ key: 'fit', name: 'Fits', on: true },
  requiredFields: [],
  minDays: 0,
  minHours: 0,
  effects: [],
  decider: BY_RULE,
};
const withGate = (charter: Charter): Charter => ({
  ...withPoints(charter, 'trade', 33),
  gates: [{ ...ASKING_LITTLE, from: 'new' as never, to: 'qualified' as never, when: { test: 'all', of: [] } }],
});
const enact = async (change: (charter: Charter) => Charter, how: object = {}) => {
  const draft = await drawn(change);
  const sent = { version: draft.version, reason: 'x', ...how };
  await admin.post(`/api/drafts/${draft.id}/enact`).send(sent).expect(202);
  return rescored();
};
/** Sessions have ended by then. */
async function elevenDaysLater(): Promise<void> {
  server.now = new Date(server.now.getTime() + 11 * DAY);
  admin = await server.as('admin');
}
const click = (lead: number) =>
  admin.post(`/api/leads/${lead}/activities`).send({ kind: 'mail_clicked', at: server.now.toISOString() });

test('territories that overlap are saved and told; only enacting waits until one gives the country up', async () => {
  const overlapping = (charter: Charter): Charter => {
    const [first, second, ...others] = charter.territories.list;
    const list = [first!, { ...second!, countries: [...second!.countries, first!.countries[0]!] }, ...others];
    return { ...charter, territories: { ...charter.territories, list } };
  };
  const draft = await drawn(overlapping);
  expect(draft.findings).toMatchObject([{ code: 'overlap', severity: 'error', others: ['nordics'] }]);
  const sent = { version: draft.version, reason: 'x' };
  const refused = await admin.post(`/api/drafts/${draft.id}/enact`).send(sent).expect(422);
  expect((refused.body as { errors: object[] }).errors).toMatchObject([
    { path: '/charter/territories/list/dach', message: /is covered by D-A-CH and Nordics/ },
  ]);
});

test('time alone is decided by the charter that gave the values; what happens next, by the one in force', async () => {
  await enact(fading);
  const id = await bring('t@l.example', { industry: 'Brewery' });
  await click(id);
  expect(await leadOf(id)).toMatchObject({ fit: 60, engagement: 20, stage: 'new', charter: 2 });
  // For new leads only: this one keeps what it has, whatever its points are now.
  await enact(withGate, { scope: { which: 'new' } });
  await elevenDaysLater();
  expect(await passTime(server.source, server.now)).toBe(1);
  expect(await leadOf(id)).toMatchObject({ fit: 60, engagement: 0, stage: 'new', charter: 2 });
  await click(id);
  expect(await leadOf(id)).toMatchObject({ fit: 33, engagement: 20, stage: 'qualified', charter: 3 });
});

test('scored by a new charter, a lead that meets a gate goes through it when next something happens, not by time', async () => {
  await enact(fading);
  const id = await bring('g@l.example', { industry: 'Brewery' });
  await click(id);
  await enact(withGate);
  expect(await leadOf(id)).toMatchObject({ fit: 33, stage: 'new', charter: 3 });
  await elevenDaysLater();
  expect(await passTime(server.source, server.now)).toBe(1);
  expect(await leadOf(id)).toMatchObject({ engagement: 0, stage: 'new' });
  await click(id);
  expect(await leadOf(id)).toMatchObject({ stage: 'qualified' });
});

test('a past charter that names what is gone moves nothing: the home page says of how many, and it goes on when it is back', async () => {
  await enact(fading);
  const id = await bring('h@l.example', { industry: 'Brewery' });
  await click(id);
  await enact(
    (charter) => withSets(charter, (set) => ({ ...set, signals: set.signals.filter(({ key }) => key !== 'trade') })),
    { scope: { which: 'new' } },
  );
  const retire = (retired: boolean) => server.source.manager.update(FieldEntity, { key: 'industry' }, { retired });
  await retire(true);
  await elevenDaysLater();
  expect(await passTime(server.source, server.now)).toBe(0);
  expect(await leadOf(id)).toMatchObject({ engagement: 20, charter: 2 });
  const { attention } = (await admin.get('/api/home')).body as Home;
  expect(attention.filter(({ what }) => what === 'held-back')).toMatchObject([{ about: '2', count: 1 }]);
  await retire(false);
  expect(await passTime(server.source, server.now)).toBe(1);
  expect(await leadOf(id)).toMatchObject({ fit: 60, engagement: 0, charter: 2 });
});

test('a closed lead keeps the score it closed with, whatever is enacted or corrected', async () => {
  const [closed, open] = [await bring('c@l.example', { industry: 'Brewery' }), await bring('o@l.example')];
  await admin.post(`/api/leads/${closed}/close`).send({ outcome: 'lost', reason: 'too dear' }).expect(200);
  const before = await leadOf(closed);
  expect(await enact((charter) => withPoints(charter, 'trade', 1), { reach: 'routes' })).toMatchObject({
    total: 1,
    done: 1,
  });
  expect(await leadOf(closed)).toEqual(before);
  expect(await leadOf(open)).toMatchObject({ charter: 2 });

  const edit = { version: before.version, values: { industry: 'Mill', company: 'Mill Works' } };
  await admin.patch(`/api/leads/${closed}`).send(edit).expect(200);
  expect(await leadOf(closed)).toMatchObject({
    fit: before.fit,
    fitBand: before.fitBand,
    charter: 1,
    company: 'Mill Works',
  });
  const { history } = (await admin.get(`/api/leads/${closed}`)).body as LeadDetail;
  expect(history.filter(({ field }) => field === 'industry')).toHaveLength(1);
});

test('bad drafts: wrong form is refused with its path, wrong names are kept and said, neither can be enacted', async () => {
  const draft = await drawn((charter) => charter);
  const put = (charter: unknown, version = draft.version) =>
    admin.put(`/api/drafts/${draft.id}`).send({ version, charter });
  const cuts = structuredClone(draft.charter) as unknown as {
    scoreSets: { grid: { fit: { cuts: number[] } } }[];
    lastResort: { lead: string };
  };
  cuts.scoreSets[0]!.grid.fit.cuts = [70, 40];
  expect((await put(cuts)).body).toMatchObject({
    status: 422,
    errors: [{ path: '/charter/scoreSets/0/grid/fit/cuts/1' }],
  });
  expect((await put({ ...draft.charter, surprise: 1 })).body).toMatchObject({
    status: 422,
    errors: [{ path: '/charter/surprise' }],
  });
  expect((await put(draft.charter, 1)).body).toMatchObject({ status: 409 });

  const kept = (await put({ ...draft.charter, lastResort: { lead: 'moon' } })).body as CharterState;
  expect(kept.draft?.findings).toMatchObject([
    {
      code: 'unusable',
      place: { path: '/lastResort/lead', words: 'Last resort, for leads' },
      message: 'no such queue: moon',
    },
  ]);
  const enact = (version: number | undefined, reason: string) =>
    admin.post(`/api/drafts/${draft.id}/enact`).send({ version, reason });
  expect((await enact(kept.draft?.version, 'x')).body).toMatchObject({
    status: 422,
    errors: [{ path: '/charter/lastResort/lead' }],
  });
  expect((await enact(kept.draft?.version, ' ')).body).toMatchObject({ status: 422, errors: [{ path: '/reason' }] });
  expect((await admin.delete(`/api/drafts/${draft.id}`)).body).toMatchObject({ draft: null, inForce: { number: 1 } });
});

test('of two who enact at once exactly one does, and one charter is in force', async () => {
  const draft = await drawn((charter) => withPoints(charter, 'trade', 50));
  const answers = await Promise.all(
    [1, 2].map(() => admin.post(`/api/drafts/${draft.id}/enact`).send({ version: draft.version, reason: 'now' })),
  );
  expect(answers.map((answer) => answer.status).sort()).toEqual([202, 404]);
  const [{ n }] = await server.source.query<[{ n: string }]>('SELECT COUNT(*) AS n FROM charter WHERE in_force = 1');
  expect(Number(n)).toBe(1);
  await rescored();
});

test('who waits for someone free leaves the bay by age when a load or limit frees someone', async () => {
  const route = { industry: 'Brewery', deal_value: '30000 EUR' };
  const [first, second, third, fourth] = [
    await bring('w1@l.example', route),
    await bring('w2@l.example', route),
    await bring('w3@l.example', route),
    await bring('w4@l.example', route),
  ];
  const places = async () => Promise.all([first, second, third, fourth].map(async (id) => (await leadOf(id)).owner));
  // Ada may carry two; the third and fourth wait.
  expect(await places()).toEqual(['ada', 'ada', null, null]);
  expect(await leadOf(third)).toMatchObject({ place: 'bay', bay: { why: 'nobody-free', route: 'large', rep: 'ada' } });
  await admin.post(`/api/leads/${first}/close`).send({ outcome: 'lost', reason: 'too dear' }).expect(200);
  expect(await places()).toEqual(['ada', 'ada', 'ada', null]);
  await admin.patch('/api/people/ada').send({ mayTakeLeads: true, limit: 5, whyNot: null }).expect(200);
  expect((await places())[3]).toBe('ada');
});
