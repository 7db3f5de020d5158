import { gradeKey } from '../store/entity/scored.entity';
import type { CharterState, DeskAnswer, Job } from '@relvik/contracts';
import type { Charter, EnactScope, FacetChange, Impact, Meeting, OwnerImpact, Reach } from '@relvik/core';
import { withPoints, withSets } from '../../../core/src/charter/changed-charter.fixture';
import { SmallServer } from '../fixture/small-server.fixture';
import { LeadEntity } from '../store/entity/lead.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { RepLoadEntity } from '../store/entity/people.entity';
import { finishRescores, rescoreBatch } from '../job/rescore';

let server: SmallServer;
beforeEach(async () => {
  server = await SmallServer.start();
});
afterEach(() => server.stop());

/** A gate that asks about leads that no gate above it moved. */
const ASKING = {
  ...{
    key: 'visit',
    name: 'Visit?',
    from: 'new',
    to: 'qualified',
    on: true,
    requiredFields: [],
    minDays: 0,
    minHours: 0,
    effects: [],
  },
  when: { test: 'one-of', subject: { kind: 'field', field: 'country' }, values: ['NO', 'DE'] },
  decider: { kind: 'asks', withoutOwner: null, alternatives: [] },
} as unknown as Charter['gates'][number];

/** A route for large leads that a gate has just tagged. */
const TAGGED = {
  ...{ key: 'tagged', name: 'Tagged', on: true, to: { kind: 'queue', queue: 'projects' } },
  when: {
    test: 'all',
    of: [
      { test: 'any-of', subject: { kind: 'field', field: 'tags' }, values: ['let through'] },
      {
        test: 'range',
        subject: { kind: 'field', field: 'employees' },
        from: { at: '60', included: true },
        to: null,
      },
    ],
  },
} as unknown as Charter['streams'][number]['routes'][number];

/** Cuts and points moved, a gate that tags what it lets through and a route that reads the tag, one that asks a person, and one territory less. */
const redrawn = (charter: Charter): Charter => ({
  ...withSets(withPoints(charter, 'trade', 35), (set) => ({
    ...set,
    grid: { ...set.grid, fit: { ...set.grid.fit, cuts: [30, 80] } },
  })),
  gates: [
    ...charter.gates.map((gate) =>
      gate.key === 'qualify' ? { ...gate, effects: [{ kind: 'tag', tag: 'Let through' } as const] } : gate,
    ),
    ASKING,
  ],
  territories: { ...charter.territories, list: charter.territories.list.slice(0, 1) },
  streams: charter.streams.map((stream) => ({
    ...stream,
    routes: [TAGGED, ...stream.routes.filter((route) => route.key !== 'centre')],
  })),
});

/** Leads of all sorts: some came in long ago, some are closed, some can't be judged; some are governed by a past charter. */
async function takeIn(): Promise<void> {
  const admin = await server.as('admin');
  const today = server.now;
  for (let i = 0; i < 45; i += 1) {
    // The first third keeps what the first charter gave it.
    if (i === 15) await enactForNewOnes((charter) => withPoints(charter, 'trade', 20));
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

/** Puts a changed charter in force for new leads only. */
async function enactForNewOnes(change: (charter: Charter) => Charter): Promise<void> {
  const admin = await server.as('admin');
  const { draft } = (await admin.post('/api/drafts').send({ name: 'Between' })).body as CharterState;
  const sent = { version: draft!.version, charter: change(draft!.charter) };
  const saved = (await admin.put(`/api/drafts/${draft!.id}`).send(sent)).body as CharterState;
  await admin
    .post(`/api/drafts/${draft!.id}/enact`)
    .send({ version: saved.draft!.version, reason: 'for new ones', scope: { which: 'new' } })
    .expect(202);
  await finishRescores(server.source, () => server.now);
}

const FACETS = ['grade', 'stage', 'territory'] as const;
type Stored = Record<(typeof FACETS)[number] | 'place', string> & {
  readonly fit: number | null;
  readonly open: boolean;
};

function placeLabel({ place, owner, queue }: LeadEntity): string {
  switch (place) {
    case 'owner':
      return `owner:${owner}`;
    case 'queue':
      return `queue:${queue}`;
    case 'bay':
      return 'bay';
    case 'not-handed-over':
      return '';
  }
}

async function stored(): Promise<Map<number, Stored>> {
  const leads = await server.source.manager.find(LeadEntity, { order: { id: 'ASC' } });
  return new Map(
    leads.map((lead) => [
      lead.id,
      {
        grade: gradeKey(lead) ?? '',
        stage: lead.stage,
        territory: lead.territory ?? '',
        place: placeLabel(lead),
        fit: lead.fit,
        open: lead.status === 'open',
      },
    ]),
  );
}

/** Which leads are another thing than before, from what to what, in the order of ids. */
function moved(before: Map<number, Stored>, after: Map<number, Stored>, facet: keyof Stored) {
  return [...before]
    .map(([id, lead]) => ({ id, from: lead[facet], to: after.get(id)?.[facet] }))
    .filter(({ from, to }) => from !== to);
}

const byId = <T extends { readonly id: number }>(leads: readonly T[]): T[] => [...leads].sort((a, b) => a.id - b.id);
/** From what to what, with how many; those that stay too. */
function flows(before: Map<number, Stored>, after: Map<number, Stored>, facet: keyof Stored): string[] {
  const counts = new Map<string, number>();
  for (const [id, lead] of before) {
    const flow = `${String(lead[facet])} > ${String(after.get(id)?.[facet])}`;
    counts.set(flow, (counts.get(flow) ?? 0) + 1);
  }
  return [...counts].map(([flow, count]) => `${flow}: ${count}`).sort();
}
const inWords = (change: FacetChange): string[] =>
  change.flows.map(({ from, to, count }) => `${from} > ${to}: ${count}`).sort();

test.each<[Reach, EnactScope]>([
  ['score', { which: 'all' }],
  ['gates', { which: 'all' }],
  ['routes', { which: 'all' }],
  ['gates', { which: 'touched', months: 3 }],
  ['routes', { which: 'new' }],
])(
  'what the impact foretells of enacting as far as %s for %j is what happens, number by number',
  async (reach, scope) => {
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
    const meeting = await ask<Meeting>('meeting');

    const before = await stored();
    const enacted = await admin
      .post(`/api/drafts/${drawn!.id}/enact`)
      .send({ version: drawn!.version, reason: 'foretold', reach, scope })
      .expect(202);
    expect((enacted.body as Job).total).toBe(impact.chosen);
    // A lead that is freed leaves the bay a moment later; the impact doesn't foretell that, so none is let out here.
    for (let more = true; more;) more = await rescoreBatch(server.source, server.now, 100);
    const after = await stored();

    expect([...after.keys()]).toEqual([...before.keys()]);
    for (const facet of FACETS) {
      const foretold = impact.leads[facet].map((lead) => ({ id: lead.id, from: lead[facet][0], to: lead[facet][1] }));
      expect([facet, byId(foretold)]).toEqual([facet, moved(before, after, facet)]);
      expect([facet, inWords(impact.facets[facet])]).toEqual([facet, flows(before, after, facet)]);
    }
    const placed = moved(before, after, 'place');
    expect(byId(owners.leads)).toEqual(placed);
    expect(inWords(owners.owners)).toEqual(flows(before, after, 'place'));
    const carried = (await server.source.manager.find(RepLoadEntity)).map(({ rep, open }) => [rep, open]);
    expect(owners.loads.flatMap(({ rep, after: open }) => (open === 0 ? [] : [[rep, open]])).sort()).toEqual(
      carried.filter(([, open]) => open !== 0).sort(),
    );
    expect(impact.score).toBeGreaterThanOrEqual(moved(before, after, 'fit').length);
    // Nothing of a closed lead changes.
    for (const [id, lead] of before) if (!lead.open) expect([id, after.get(id)]).toEqual([id, lead]);
    for (const [id, lead] of before)
      if (lead.place.startsWith('owner')) expect([id, after.get(id)?.place]).toEqual([id, lead.place]);
    if (scope.which === 'all') expect(impact.facets.grade.changed).toBeGreaterThan(5);
    // Those that met a gate, and were chosen, went through it where gates were run.
    expect(await server.source.manager.countBy(ProposalEntity, { state: 'open' })).toBe(impact.asked.after);
    if (reach !== 'score' && scope.which === 'all') expect(impact.asked).toMatchObject({ before: 0 });
    if (reach === 'gates') expect(impact.asked.after).toBeGreaterThan(0);
    const through = moved(before, after, 'stage').length;
    expect(through).toBe(reach === 'score' ? 0 : meeting.chosen);
  },
);
