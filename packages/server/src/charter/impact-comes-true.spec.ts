import type { CharterState, DeskAnswer } from '@relvik/contracts';
import type { Charter, EnactScope, FacetName, Impact, OwnerImpact, Reach } from '@relvik/core';
import { withPoints, withSets } from '../../../core/src/charter/changed-charter.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { finishRescores } from '../job/rescore';

let server: SmallServer;
beforeEach(async () => {
  server = await SmallServer.start();
});
afterEach(() => server.stop());

/** Cuts and points moved, a gate that now asks for more, and one territory less. */
const redrawn = (charter: Charter): Charter => ({
  ...withSets(withPoints(charter, 'trade', 35), (set) => ({
    ...set,
    grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [30, 80] } },
  })),
  territories: { ...charter.territories, list: charter.territories.list.slice(0, 1) },
  streams: charter.streams.map((stream) => ({
    ...stream,
    routes: stream.routes.filter((route) => route.key !== 'centre'),
  })),
});

/** Leads of all sorts: some came in long ago, some are closed, some can't be judged. */
async function takeIn(): Promise<void> {
  const admin = await server.as('admin');
  const today = server.now;
  for (let i = 0; i < 45; i += 1) {
    server.now = new Date(today.getTime() - (i % 3 === 0 ? 200 : 5) * 86_400_000);
    const values = {
      email: `l${i}@${i % 7 === 0 ? 'mail' : 'firm'}.example`,
      industry: ['Brewery', 'Golf course', 'Fish farm', ''][i % 4],
      employees: i % 11 === 10 ? 'about sixty' : String((i * 29) % 120),
      country: ['NO', 'Germany', 'Sweden', 'Portugal'][i % 4],
      deal_value: ['30000 EUR', '', '500 NOK'][i % 3],
    };
    const { id } = (await admin.post('/api/leads').send({ values })).body as { id: number };
    if (i % 9 === 8) await admin.post(`/api/leads/${id}/close`).send({ outcome: 'lost', reason: 'no' });
  }
  server.now = today;
}

type Stored = Pick<LeadEntity, 'grade' | 'stage' | 'territory' | 'place' | 'owner' | 'queue'>;
const stored = async (): Promise<Map<number, Stored>> =>
  new Map((await server.source.manager.find(LeadEntity)).map((lead) => [lead.id, lead]));

/** Which leads are another thing than before, from what to what, in the order of ids. */
function moved(before: Map<number, Stored>, after: Map<number, Stored>, facet: FacetName) {
  return [...before]
    .map(([id, lead]) => ({ id, from: lead[facet] ?? '', to: after.get(id)?.[facet] ?? '' }))
    .filter(({ from, to }) => from !== to)
    .sort((a, b) => a.id - b.id);
}

test.each<[Reach, EnactScope]>([
  ['score', { which: 'all' }],
  ['gates', { which: 'all' }],
  ['routes', { which: 'all' }],
  ['gates', { which: 'touched', months: 3 }],
  ['routes', { which: 'new' }],
])('what the impact foretells of enacting as far as %s for %j is what happens, lead by lead', async (reach, scope) => {
  await takeIn();
  const admin = await server.as('admin');
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Next' })).body as CharterState;
  const charter = redrawn(draft!.charter);
  const saved = await admin.put(`/api/drafts/${draft!.id}`).send({ version: draft!.version, charter });
  const { inForce, draft: drawn } = saved.body as CharterState;

  const asks = { pair: { inForce: inForce.charter, draft: charter }, reading: { kind: 'on-enact', reach, scope } };
  const ask = async <T>(question: string): Promise<T> => {
    const said = await admin.post('/api/population/questions').send({ question, asks });
    return ((said.body as DeskAnswer).answer as { answer: T }).answer;
  };
  const impact = await ask<Impact>('impact');
  const owners = await ask<OwnerImpact>('owners');

  const before = await stored();
  await admin
    .post(`/api/drafts/${drawn!.id}/enact`)
    .send({ version: drawn!.version, reason: 'foretold', reach, scope })
    .expect(202);
  await finishRescores(server.source, () => server.now);
  const after = await stored();

  for (const facet of ['grade', 'stage'] as const) {
    const foretold = impact.leads[facet]
      .map((lead) => ({ id: lead.id, from: lead[facet][0], to: lead[facet][1] }))
      .sort((a, b) => a.id - b.id);
    expect([facet, foretold]).toEqual([facet, moved(before, after, facet)]);
  }
  if (scope.which === 'all') expect(impact.facets.grade.changed).toBeGreaterThan(5);
  // Who had an owner keeps them, and nobody is lost on the way.
  for (const [id, lead] of before)
    if (lead.place === 'owner') expect([id, after.get(id)?.owner]).toEqual([id, lead.owner]);
  expect([...after.keys()]).toEqual([...before.keys()]);
  const owned = [...after.values()].filter(({ place }) => place === 'owner').length;
  // Those who leave the bay a moment later are not foretold.
  expect(owned).toBeGreaterThanOrEqual(owners.course.after);
  if (reach !== 'routes') expect(owners.owners.changed).toBe(0);
});
