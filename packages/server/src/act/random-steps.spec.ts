import type { RepKey } from '@relvik/core';
import seedrandom from 'seedrandom';
import type { DataSource } from 'typeorm';
import { examine } from '../doctor/examine';
import { Refused } from '../problem/refused';
import { testDatabase } from '../fixture/test-database.fixture';
import { freeBay } from './free-bay';
import { loadDemoWorld } from '../demo/demo-world';
import { IntakeWriter } from '../intake/intake-writer';
import { LeadEntity } from '../store/entity/lead.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { assignLead } from './assign-lead';
import { closeLead } from './close-lead';
import { decideProposals, undoProposals } from './decide-proposals';
import { editLead } from './edit-lead';
import { moveLeads } from './move-leads';
import { pickUpLead } from './queue-work';

const now = new Date();
const STAGES = ['new', 'nurture', 'qualified', 'site-known', 'care-asked', 'care-fits'];
let source: DataSource;
let writer: IntakeWriter;
beforeAll(async () => {
  source = await testDatabase();
  writer = new IntakeWriter(source);
  await loadDemoWorld(source, now, () => undefined);
}, 240_000);
afterAll(() => source.destroy());

interface Counts {
  readonly leads: string;
  readonly placed: string;
  readonly wrongLoads: string;
  readonly twoOpen: string;
  readonly undecided: string;
}

/** What must hold at every moment, asked of the database itself. */
async function invariants(): Promise<Record<string, number>> {
  const [counts] = await source.query<[Counts]>(`
    SELECT
      (SELECT COUNT(*) FROM record WHERE kind = 'lead') AS leads,
      (SELECT COUNT(*) FROM lead WHERE
        (place = 'owner') = (owner IS NOT NULL) AND (place = 'queue') = (queue IS NOT NULL) AND (place = 'bay') = (bay IS NOT NULL)
        AND (owner IS NOT NULL) + (queue IS NOT NULL) + (bay IS NOT NULL) + (place = 'not-handed-over') = 1) AS placed,
      (SELECT COUNT(*) FROM rep_load LEFT JOIN (SELECT owner, COUNT(*) AS n FROM lead WHERE status = 'open' GROUP BY owner) held ON held.owner = rep
        WHERE open <> COALESCE(n, 0)) AS wrongLoads,
      (SELECT COUNT(*) FROM (SELECT email FROM lead WHERE status = 'open' AND email IS NOT NULL GROUP BY email, pipeline HAVING COUNT(*) > 1) twice) AS twoOpen,
      (SELECT COUNT(*) FROM lead WHERE NOT EXISTS (SELECT * FROM decision WHERE decision.record = lead.id)) AS undecided`);
  return Object.fromEntries(Object.entries(counts).map(([name, count]) => [name, Number(count)]));
}

test('the demo world is as large and mixed as it should be', async () => {
  const { leads, placed, ...wrong } = await invariants();
  expect([placed, wrong]).toEqual([leads, { wrongLoads: 0, twoOpen: 0, undecided: 0 }]);
  expect(leads).toBeGreaterThan(1900);
  const groups = await source.query<{ place: string; status: string }[]>(
    'SELECT place, status FROM lead GROUP BY place, status',
  );
  expect([...new Set(groups.map(({ place }) => place))].sort()).toEqual(['bay', 'not-handed-over', 'owner', 'queue']);
  expect([...new Set(groups.map(({ status }) => status))].sort()).toEqual(['disqualified', 'lost', 'open', 'won']);
  expect(await loadDemoWorld(source, now, () => undefined)).toBe(true);
  expect((await invariants())['leads']).toBe(leads);
});

test('after thousands of random steps, several at once, every lead has exactly one place and loads are what is owned', async () => {
  const random = seedrandom('steps');
  const pick = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const values = () => ({
    email: `p${Math.floor(random() * 400)}@r.example`,
    industry: pick(['Brewery', 'Fish farm', 'Golf course', '', 'Mill']),
    employees: pick(['5', '50', 'many', '']),
    title: pick(['Plant manager', 'Student', '']),
    source: pick(['Referral', 'Partner', '']),
    country: pick(['NO', 'Sweden', 'DE', 'Malta', 'Atlantis', '']),
    deal_value: pick(['', '20000 EUR', '200000 EUR', '700 ISK', 'some']),
  });
  const hand = { user: { key: 'admin', name: 'Test', role: 'admin' as const }, at: now };
  const byRep = (key: string) => ({ user: { key, name: key, role: 'rep' as const }, at: now });
  const refused = { count: 0 };

  /** Takes, changes or refuses one that is open, or takes back what was decided. */
  async function decideOne(): Promise<void> {
    const state = random() < 0.3 ? 'taken' : 'open';
    const some = await source.manager.find(ProposalEntity, { where: { state }, order: { id: 'DESC' }, take: 30 });
    const found = some[Math.floor(random() * some.length)];
    if (found === undefined) return;
    if (state === 'taken') await undoProposals(source, [found.id], hand);
    else {
      const answer = pick(['site-known', 'nurture', 'care-yearly', null]);
      await decideProposals(source, { decisions: [{ id: found.id, answer }], reason: 'so' }, hand);
    }
  }

  async function step(ids: readonly number[]): Promise<void> {
    const kind = random();
    const id = ids.length === 0 ? 0 : pick(ids);
    const [rep, outcome, changed] = [
      pick(['rep', 'lorenz', 'ines', 'sindre']) as RepKey,
      pick(['won', 'lost', 'disqualified'] as const),
      values(),
    ];
    try {
      if (kind < 0.45 || id === 0)
        await writer.accept({
          cause: { kind: 'form', name: 'test' },
          at: now,
          values: changed,
          owner: kind < 0.05 ? rep : null,
          trusted: kind < 0.3,
        });
      else if (kind < 0.6) await closeLead(source, id, { outcome, reason: 'over' }, hand);
      else if (kind < 0.65)
        await moveLeads(source, { ids: [id, pick(ids)], stage: pick(STAGES), reason: 'by hand' }, hand);
      else if (kind < 0.7) await decideOne();
      else if (kind < 0.75) await assignLead(source, id, rep, hand);
      else if (kind < 0.85) await pickUpLead(source, id, byRep(rep));
      else if (kind < 0.95) {
        const { version } = await source.manager.findOneByOrFail(LeadEntity, { id });
        const { industry, employees, country, deal_value } = changed;
        await editLead(source, id, { version, values: { industry, employees, country, deal_value } }, hand);
      } else await freeBay(source, now);
    } catch (error) {
      // A closed lead, a stale version, a place in a queue that someone else took: refused, and nothing changed.
      if (!(error instanceof Refused)) throw error;
      refused.count += 1;
    }
  }

  for (let round = 0; round < 250; round += 1) {
    const ids = (await source.manager.find(LeadEntity, { select: { id: true }, order: { id: 'DESC' }, take: 400 })).map(
      (lead) => lead.id,
    );
    await Promise.all(Array.from({ length: 10 }, () => step(ids)));
    if (round % 25 === 24) {
      const { leads, placed, ...wrong } = await invariants();
      expect([round, placed, wrong]).toEqual([round, leads, { wrongLoads: 0, twoOpen: 0, undecided: 0 }]);
    }
  }
  expect(await examine(source, now, false)).toEqual([]);
  const { leads } = await invariants();
  expect(leads).toBeGreaterThan(2200);
  expect(refused.count).toBeGreaterThan(50);
  const states = await source.query<{ state: string }[]>('SELECT DISTINCT state FROM proposal ORDER BY state');
  expect(states.map(({ state }) => state)).toEqual(['open', 'refused', 'taken', 'withdrawn']);
  const kinds = await source.query<{ place: string }[]>('SELECT DISTINCT place FROM lead');
  expect(kinds.map(({ place }) => place).sort()).toEqual(['bay', 'not-handed-over', 'owner', 'queue']);
});
