import type { LeadDetail, LeadPage, LeadRow, Reasoning } from '@relvik/contracts';
import type { Charter, Condition, ScoreSet } from '@relvik/core';
import { readCsv } from '@relvik/formats';
import seedrandom from 'seedrandom';
import type { Agent } from 'supertest';
import { SmallServer } from '../fixture/small-server.fixture';
import { passTime } from '../job/pass-time';
import { finishRescores } from '../job/rescore';
import { LeadEntity } from '../store/entity/lead.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';

const breweries: Condition = { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery'] };
const large: Condition = {
  test: 'range',
  subject: { kind: 'field', field: 'employees' },
  from: { at: '50', included: true },
  to: null,
};

/** Breweries have a set of their own; what is large is scored for an extra beside; nobody else is admitted. */
function sets(charter: Charter): Charter {
  const [all] = charter.scoreSets as readonly [ScoreSet];
  const renamed = (key: string, name: string, when: Condition, signals: ScoreSet['signals']): ScoreSet => ({
    ...all,
    key,
    name,
    when,
    signals: signals.map((signal) => ({ ...signal, key: `${key}-${signal.key}` })),
  });
  const clicks = all.signals.filter((signal) => signal.kind === 'activity');
  return {
    ...charter,
    scoreSets: [
      { ...all, when: breweries },
      renamed(
        'extra',
        'Extra product',
        large,
        clicks.map((signal) => ({ ...signal, points: 7, window: 10 })),
      ),
    ],
  };
}

let server: SmallServer;
let admin: Agent;
beforeEach(async () => {
  server = await SmallServer.start(sets);
  admin = await server.as('admin');
});
afterEach(() => server.stop());

const bring = async (email: string, values: object) =>
  ((await admin.post('/api/leads').send({ values: { email, ...values } })).body as { id: number }).id;
const leadOf = (id: number) => server.source.manager.findOneByOrFail(LeadEntity, { id });
const besideOf = async (id: number) =>
  (await server.source.manager.findBy(SideScoreEntity, { record: id })).map(({ scoreSet, fit, engagement }) => [
    scoreSet,
    fit,
    engagement,
  ]);

test('the first set that admits a lead grades it, the others score beside; whom none admits is not held up', async () => {
  const both = await bring('both@s.example', { industry: 'Brewery', employees: '50', country: 'NO' });
  const extra = await bring('extra@s.example', { industry: 'Golf course', employees: '80' });
  const none = await bring('none@s.example', { industry: 'Golf course', employees: '8' });
  const open = await bring('open@s.example', { industry: 'Brewry', employees: '80' });

  expect(await leadOf(both)).toMatchObject({ admitted: 'yes', scoreSet: 'leads', fit: 100, stage: 'qualified' });
  expect(await besideOf(both)).toEqual([['extra', 0, 0]]);
  expect(await leadOf(extra)).toMatchObject({
    admitted: 'yes',
    scoreSet: 'extra',
    fit: 0,
    fitBand: 'c',
    engagementBand: 'quiet',
  });
  expect(await leadOf(none)).toMatchObject({ admitted: 'no', scoreSet: null, fitBand: null, place: 'not-handed-over' });
  expect(await besideOf(none)).toEqual([]);
  // Whether it is a brewery can't be said: it waits for that, and says so.
  expect(await leadOf(open)).toMatchObject({
    admitted: 'unjudged',
    fitBand: null,
    bay: { why: 'unjudged', fields: ['industry'] },
  });
  expect(await besideOf(open)).toEqual([['extra', 0, 0]]);

  const { then } = (await admin.get(`/api/leads/${none}/reasoning`)).body as Reasoning;
  expect(then.decision.score).toMatchObject({ admitted: 'no', set: null, signals: [] });
  expect(((await admin.get(`/api/leads/${extra}`)).body as LeadDetail).scoreSet).toBe('extra');
});

test('sets are columns of a list and of its file, and each has a distribution of its own', async () => {
  await bring('both@s.example', { industry: 'Brewery', employees: '50' });
  await bring('one@s.example', { industry: 'Brewery' });
  await bring('none@s.example', {});
  const query = { columns: 'set:leads,set:extra', order: 'oldest' };
  const { rows } = (await admin.get('/api/leads').query(query)).body as LeadPage;
  expect(rows.map(({ scores }) => scores)).toEqual([
    { leads: { rank: 100, fit: 100, engagement: 0 }, extra: { rank: 0, fit: 0, engagement: 0 } },
    { leads: { rank: 60, fit: 60, engagement: 0 } },
    {},
  ]);
  const file = readCsv((await admin.get('/api/leads.csv').query(query)).text);
  if (!file.ok) throw new Error('the file can be read');
  expect(file.table.header.slice(2)).toEqual([
    'Leads, rank',
    'Leads, fit',
    'Leads, engagement',
    'Extra product, rank',
    'Extra product, fit',
    'Extra product, engagement',
  ]);
  expect(file.table.rows.map((row) => row.slice(2))).toEqual([
    ['100', '100', '0', '0', '0', '0'],
    ['60', '60', '0', '', '', ''],
    ['', '', '', '', '', ''],
  ]);
  const distribution = async (set: string): Promise<unknown> =>
    (await admin.get(`/api/score-sets/${set}/distribution`)).body;
  expect(await distribution('leads')).toMatchObject({
    fit: [
      { score: 60, count: 1 },
      { score: 100, count: 1 },
    ],
  });
  expect(await distribution('extra')).toMatchObject({ fit: [{ score: 0, count: 1 }] });
});

test('a list is ranked by any set, over all whom it grades or scores beside, page by page', async () => {
  const random = seedrandom('ranked by a set');
  const pick = <T>(options: readonly T[]): T => options[Math.floor(random() * options.length)] as T;
  for (let i = 0; i < 60; i += 1) {
    const id = await bring(`p${i}@s.example`, {
      industry: pick(['Brewery', 'Golf course', 'Brewry']),
      employees: pick(['5', '80', 'many']),
      country: pick(['NO', 'DE']),
    });
    if (random() < 0.6)
      await admin
        .post(`/api/leads/${id}/activities`)
        .send({ kind: 'mail_clicked', at: server.now.toISOString() })
        .expect(201);
  }
  const list = async (query: object): Promise<LeadRow[]> => {
    const rows: LeadRow[] = [];
    for (let after: string | null | undefined; after !== null;) {
      const page = await admin.get('/api/leads').query({ ...query, size: 7, ...(after ? { after } : {}) });
      rows.push(...(page.body as LeadPage).rows);
      after = (page.body as LeadPage).next;
    }
    return rows;
  };
  const all = await list({ columns: 'set:leads,set:extra', order: 'newest' });
  expect(all).toHaveLength(60);
  for (const set of ['leads', 'extra']) {
    const scored = all.filter(({ scores }) => set in scores);
    const gradedBy = scored.filter(({ scoreSet }) => scoreSet === set).length;
    expect([gradedBy > 0, set === 'leads' || gradedBy < scored.length]).toEqual([true, true]);
    const worth = (axes: readonly ('fit' | 'engagement')[], { scores }: LeadRow): number =>
      axes.reduce((sum, axis) => sum + (scores[set]?.[axis] ?? -Infinity), 0);
    for (const [order, axes] of [
      ['rank', ['fit', 'engagement']],
      ['fit', ['fit']],
      ['engagement', ['engagement']],
    ] as const) {
      const expected = scored.toSorted((a, b) => {
        const [first, second] = [worth(axes, a), worth(axes, b)];
        return first === second ? b.id - a.id : second - first;
      });
      const found = await list({ set, order, columns: `set:${set}` });
      expect(found.map(({ id }) => id)).toEqual(expected.map(({ id }) => id));
      const least = 7;
      const enough = expected.filter((row) => worth(['fit', 'engagement'], row) >= least).map(({ id }) => id);
      expect((await list({ set, order, least })).map(({ id }) => id)).toEqual(enough);
      expect((await admin.get('/api/lead-count').query({ set, order, least })).body).toEqual({ count: enough.length });
    }
    const newest = await list({ set, order: 'newest' });
    expect(newest.map(({ id }) => id)).toEqual(scored.map(({ id }) => id));
  }
});

test('a score beside moves with what they do and as time passes, though the grade stays', async () => {
  const id = await bring('both@s.example', { industry: 'Brewery', employees: '50' });
  await admin
    .post(`/api/leads/${id}/activities`)
    .send({ kind: 'mail_clicked', at: server.now.toISOString() })
    .expect(201);
  expect(await besideOf(id)).toEqual([['extra', 0, 7]]);
  const { fitBand, engagementBand, changesAt } = await leadOf(id);
  // The window of ten days ends; in the set that grades nothing fades.
  expect(changesAt).toEqual(new Date(server.now.getTime() + 10 * 86_400_000));
  server.now = new Date('2026-03-13T09:00:00Z');
  expect(await passTime(server.source, server.now)).toBe(1);
  expect(await besideOf(id)).toEqual([['extra', 0, 0]]);
  expect(await leadOf(id)).toMatchObject({ fitBand, engagementBand });
});

test('a set that is turned off in a draft gives nothing any more once the draft is enacted', async () => {
  const id = await bring('both@s.example', { industry: 'Brewery', employees: '50' });
  const begun = (await admin.post('/api/drafts').send({ name: 'Less' })).body as {
    draft: { id: number; version: number; charter: Charter };
  };
  const { draft } = begun;
  const scoreSets = draft.charter.scoreSets.map((set) => ({ ...set, on: set.key !== 'extra' }));
  await admin
    .put(`/api/drafts/${draft.id}`)
    .send({ version: draft.version, charter: { ...draft.charter, scoreSets } })
    .expect(200);
  await admin
    .post(`/api/drafts/${draft.id}/enact`)
    .send({ version: draft.version + 1, reason: 'no extra any more' })
    .expect(202);
  await finishRescores(server.source, () => server.now);
  expect(await besideOf(id)).toEqual([]);
  expect(await leadOf(id)).toMatchObject({ charter: 2, scoreSet: 'leads' });
});
