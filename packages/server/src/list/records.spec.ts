import type { DeskAnswer, RecordDetail, RecordPage, RecordRow } from '@relvik/contracts';
import type { Answered, Charter, Impact, Match, RuleTally, ScoreSet, Signal } from '@relvik/core';
import type { Agent } from 'supertest';
import { withSets } from '../../../core/src/charter/changed-charter.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { EntityManager } from 'typeorm';
import { ContactEntity } from '../store/entity/contact.entity';
import { tendUnrouted } from '../job/tend-unrouted';

const DAY = 86_400_000;

/** The same signals over the fields of companies. */
function ofCompany(signals: ScoreSet['signals']): ScoreSet['signals'] {
  return JSON.parse(JSON.stringify(signals).replaceAll('"field":"', '"field":"company.')) as ScoreSet['signals'];
}

/** Beside the set for leads two for companies: breweries have one of their own, which clicks of the last ten days count for. */
function forCompanies(charter: Charter): Charter {
  const [leads] = charter.scoreSets as readonly [ScoreSet];
  const companies = (key: string, when: ScoreSet['when'], rest: Partial<ScoreSet> = {}): ScoreSet => ({
    ...leads,
    key,
    name: key,
    of: 'company',
    when,
    signals: ofCompany(leads.signals).map((signal) => ({
      ...signal,
      key: `${key}-${signal.key}`,
      ...(signal.kind === 'activity' ? { window: 10, most: null } : {}),
    })),
    ...rest,
  });
  return {
    ...charter,
    scoreSets: [
      leads,
      companies('brewers', {
        test: 'one-of',
        subject: { kind: 'field', field: 'company.industry' },
        values: ['Brewery'],
      }),
      companies('firms', { test: 'all', of: [] }),
    ],
  };
}

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(forCompanies);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (email: string, values: object) =>
  ((await admin.post('/api/leads').send({ values: { email, ...values } })).body as { id: number }).id;
const score = () => tendUnrouted(server.source, server.now);
const list = async (query: object = {}, as = admin) =>
  (await as.get('/api/companies').query({ columns: 'set:firms,set:brewers', ...query })).body as RecordPage;
const click = (lead: number) =>
  admin.post(`/api/leads/${lead}/activities`).send({ kind: 'mail_clicked', at: server.now.toISOString() }).expect(201);

test('leads of one company, however it is written, are scored together: the newest of what they say, all that they did', async () => {
  const first = await bring('a@b.example', { company: 'Fjord Brygg', industry: 'Fish farm', employees: '10' });
  server.now = new Date(server.now.getTime() + 1000);
  const second = await bring('b@b.example', { company: ' fjord BRYGG', industry: 'Brewery' });
  await bring('c@c.example', { company: 'Elv & Co' });
  await bring('d@d.example', {});
  await click(first);
  await click(second);
  // Two companies, and the contacts of four.
  expect(await score()).toBe(6);
  expect((await list()).rows).toMatchObject([
    {
      name: 'Fjord Brygg',
      leads: 2,
      admitted: 'yes',
      scoreSet: 'brewers',
      fit: 60,
      engagement: 40,
      rank: 100,
      grade: 'B active',
      scores: { firms: { fit: 60, engagement: 40 } },
    },
    { name: 'Elv & Co', leads: 1, scoreSet: 'firms', rank: 0 },
  ]);
  expect(await score()).toBe(0);

  const [row] = (await list({ find: 'brygg' })).rows;
  const detail = (await admin.get(`/api/companies/${row!.id}`)).body as RecordDetail;
  expect(detail.ofLeads.map(({ id }) => id).sort()).toEqual([first, second]);
  expect(detail.score.signals.find(({ signal }) => signal === 'brewers-clicks')?.seen).toMatchObject({ counted: 2 });
  expect(detail.values).toContainEqual({
    field: 'company.industry',
    shown: 'Brewery',
    unreadable: null,
    byHand: false,
  });
  expect(detail.values).toContainEqual({ field: 'company.employees', shown: '10', unreadable: null, byHand: false });
});

test('a company is scored again when a lead of it changes or leaves it, and as time passes', async () => {
  // Else who writes from there is taken to work there, whatever they name.
  await admin.post('/api/no-companies').send({ kind: 'domain', word: 'anyone@b.example' }).expect(201);
  const lead = await bring('a@b.example', { company: 'Fjord Brygg', industry: 'Brewery' });
  await click(lead);
  await score();
  const fits = async () => (await list()).rows.map(({ name, fit, engagement }) => [name, fit, engagement]);
  expect(await fits()).toEqual([['Fjord Brygg', 60, 20]]);

  server.now = new Date(server.now.getTime() + 11 * DAY);
  admin = await server.as('admin');
  expect((await list()).asOf).toBe(server.now.getTime() - DAY);
  expect(await score()).toBeGreaterThan(0);
  expect(await fits()).toEqual([['Fjord Brygg', 60, 0]]);

  const { version } = (await admin.get(`/api/leads/${lead}`)).body as { version: number };
  await admin
    .patch(`/api/leads/${lead}`)
    .send({ version, values: { company: 'Elv & Co', employees: '80' } })
    .expect(200);
  await score();
  // The old one has nobody left, and keeps what is known of it.
  expect(await fits()).toEqual([
    ['Elv & Co', 100, 0],
    ['Fjord Brygg', 60, 0],
  ]);
});

test('what changes while companies are scored is not passed over', async () => {
  await bring('a@b.example', { company: 'Fjord Brygg', industry: 'Brewery' });
  const { manager } = server.source;
  // As if a lead had changed between the reading and the writing.
  const update = jest.spyOn(EntityManager.prototype, 'update').mockImplementationOnce(async function (
    this: EntityManager,
    ...given
  ) {
    await manager.query('UPDATE contact SET changes = changes + 1');
    await manager.query('UPDATE company SET changes = changes + 1');
    return this.update(...given);
  });
  await score();
  update.mockRestore();
  const contact = () => manager.findOneByOrFail(ContactEntity, {});
  expect((await contact()).scoredAt).toBeNull();
  await score();
  expect((await contact()).scoredAt).toEqual(server.now);
});

test('pages put together give each company once, in order of rank; a rep sees those of leads in sight alone', async () => {
  for (let i = 0; i < 13; i += 1)
    await bring(`p${i}@p${i}.example`, {
      company: `Firm ${i}`,
      ...(i % 3 === 0 ? { industry: 'Brewery', country: 'NO' } : {}),
    });
  await score();
  const names: string[] = [];
  const ranks: number[] = [];
  for (let after: string | null = ''; after !== null;) {
    const page: RecordPage = await list({ size: 5, ...(after ? { after } : {}) });
    names.push(...page.rows.map(({ name }) => name));
    ranks.push(...page.rows.map(({ rank }) => rank ?? NaN));
    after = page.next;
  }
  expect(new Set(names).size).toBe(13);
  expect(names).toHaveLength(13);
  expect(ranks).toEqual([...ranks].sort((a, b) => b - a));
  // Ranked by a set: all that it grades or scores beside, and nobody else.
  const bySet: RecordRow[] = [];
  for (let after: string | null = ''; after !== null;) {
    const page: RecordPage = await list({ set: 'firms', size: 5, ...(after ? { after } : {}) });
    bySet.push(...page.rows);
    after = page.next;
  }
  const worth = ({ scores }: RecordRow) => scores['firms']!.rank!;
  expect(new Set(bySet.map(({ scoreSet }) => scoreSet))).toEqual(new Set(['brewers', 'firms']));
  expect(bySet.map(({ id }) => id)).toEqual(
    bySet.toSorted((a, b) => worth(b) - worth(a) || b.id - a.id).map(({ id }) => id),
  );
  expect(new Set(bySet.map(({ name }) => name)).size).toBe(13);
  expect((await list({ set: 'brewers' })).rows.map(({ scoreSet }) => scoreSet)).toEqual(Array(5).fill('brewers'));
  const ada = await server.as('ada');
  const seen = (await list({}, ada)).rows;
  expect(seen.length).toBeGreaterThan(0);
  expect(seen.length).toBeLessThan(13);
  const other = (await list()).rows.find(({ name }) => !seen.some((row) => row.name === name));
  await ada.get(`/api/companies/${other!.id}`).expect(404);
});

test('of a company with leads out of sight a rep is told the scores, and of the values those of their own leads alone', async () => {
  await bring('own@r.example', { company: 'Fjord Brygg', industry: 'Brewery', country: 'NO', employees: '60' });
  server.now = new Date(server.now.getTime() + 1000);
  await bring('other@r.example', { company: 'Fjord Brygg', employees: '500', deal_value: '9000 EUR' });
  await score();
  const detailFor = async (who: string): Promise<RecordDetail> => {
    const as = await server.as(who);
    const [row] = (await list({}, as)).rows;
    return (await as.get(`/api/companies/${row!.id}`)).body as RecordDetail;
  };
  const shown = ({ values }: RecordDetail, field: string) =>
    values.find((one) => one.field === `company.${field}`)?.shown;
  const all = await detailFor('admin');
  expect([shown(all, 'employees'), shown(all, 'deal_value')]).toEqual(['500', '9000 EUR']);
  const ada = await detailFor('ada');
  expect([ada.fit, shown(ada, 'employees'), shown(ada, 'deal_value'), ada.leads]).toEqual([
    all.fit,
    '60',
    undefined,
    1,
  ]);
  expect(JSON.stringify(ada)).not.toContain('500');
  expect(ada.score.signals.map(({ signal, points }) => [signal, points])).toEqual(
    all.score.signals.map(({ signal, points }) => [signal, points]),
  );
});

test('a draft’s sets for companies are held against those in force over all companies', async () => {
  const names = ['Fjord Brygg', 'Elv & Co', 'Myr AS'];
  const ids: number[] = [];
  for (const [i, company] of names.entries())
    ids.push(
      await bring(`q${i}@q${i}.example`, { company, industry: i === 0 ? 'Brewery' : 'Golf course', employees: '60' }),
    );
  const visit = (id: number, page: string) =>
    admin
      .post(`/api/leads/${id}/activities`)
      .send({ kind: 'page_visited', at: server.now.toISOString(), properties: { page } })
      .expect(201);
  await visit(ids[0]!, '/pricing');
  await visit(ids[0]!, '/pricing');
  await visit(ids[1]!, '/pricing/large');
  await visit(ids[2]!, '/about');
  await score();
  const state = (await admin.get('/api/charters')).body as { inForce: { charter: Charter } };
  const inForce = state.inForce.charter;
  const draft = withSets(inForce, (set) =>
    set.key === 'firms' ? { ...set, grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [75, 90] } } } : set,
  );
  const ask = async <T>(question: string, asks: object): Promise<T> => {
    const answer = await admin.post('/api/companies/questions').send({ question, asks });
    return (answer.body as DeskAnswer).answer as T;
  };
  const pair = { inForce, draft };
  const impact = await ask<Answered<Impact>>('impact', { pair, reading: { kind: 'came-in' } });
  if (!impact.ok) throw new Error('both charters are sound');
  // The two that are no breweries had 74 points for A, of which they have C now.
  expect(impact.answer).toMatchObject({ size: 3, facets: { grade: { changed: 2 } } });
  expect([impact.answer.shifts.grade.up.count, impact.answer.shifts.grade.down.count]).toEqual([0, 2]);
  const tally = await ask<Answered<RuleTally>>('tally', { pair });
  expect(tally.ok && tally.answer.sets).toEqual({ brewers: { admits: 1, grades: 1 }, firms: { admits: 3, grades: 2 } });
  const condition = { test: 'one-of', subject: { kind: 'field', field: 'company.industry' }, values: ['Golf course'] };
  const match = await ask<Answered<Match>>('match', { pair, condition, place: 'signal' });
  expect(match.ok && match.answer.yes).toBe(2);
  // Activities can be asked for with their properties.
  const address = { test: 'ends-with', subject: { kind: 'field', field: 'company.name' }, values: ['& co'] };
  const one = await ask<Answered<Match>>('match', { pair, condition: address, place: 'signal' });
  expect(one.ok && one.answer.yes).toBe(1);
  const clicks = inForce.scoreSets[0]!.signals.find((signal) => signal.kind === 'activity')!;
  const having = [{ property: 'page', test: 'contains', values: ['pricing'] }] as const;
  const prices: Signal = { ...clicks, key: 'prices', name: 'Prices', activity: 'page_visited', having };
  const asking = withSets(inForce, (set) =>
    set.key === 'firms' ? { ...set, signals: [...set.signals, prices] } : set,
  );
  const visited = await ask<Answered<RuleTally>>('tally', { pair: { inForce, draft: asking } });
  expect(visited.ok && visited.answer.signals['prices']).toMatchObject({ records: 2 });
});
