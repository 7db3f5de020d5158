import type {
  AskedRecord,
  GateConcordance,
  PastProposal,
  ProposalDetail,
  ProposalPage,
  ProposalQuery,
  ProposalRow,
} from '@relvik/contracts';
import {
  accountWords,
  allStages,
  concordanceOf,
  gatesNow,
  type Judgement,
  type MovingRecord,
  namesOf,
  type StageKey,
  type Wording,
} from '@relvik/core';
import { type EntityManager, In, MoreThan } from 'typeorm';
import { Refused } from '../problem/refused';
import { changeLine } from './change-line';
import type { User } from '../session/session-store';
import type { Sight } from '../session/sight';
import { ActivityEntity, ChangeEntity } from '../store/entity/history.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { type Governing, readGoverning } from '../store/governing';
import { loadLeads, withTiedValues } from '../store/load-leads';
import { decidedBy, OPEN_PROPOSALS } from '../list/count-proposals';
import { rowOfLead } from '../list/lead-list';
import { rowsOfRecords } from '../list/record-list';
import { loadDeals, movingDeal } from '../store/moving-deal';
import { ShownGrades } from '../list/shown-grades';

/** Proposals on a page. */
const SIZE = 50;
/** Most changes and activities shown since it was asked. */
const SINCE = 30;

/** A page of the proposals that a user is to decide. */
export async function listProposals(
  manager: EntityManager,
  sight: Sight,
  user: User,
  { order = 'oldest', gate, page = 0 }: ProposalQuery,
  now: Date,
): Promise<ProposalPage> {
  const { sql, parameters } = decidedBy(sight, user);
  const groups = await manager.query<{ gate: string; n: string; oldest: Date }[]>(
    `SELECT p.gate, COUNT(*) AS n, MIN(p.asked_at) AS oldest ${OPEN_PROPOSALS} AND ${sql} GROUP BY p.gate`,
    [...parameters],
  );
  const ofGate = gate === undefined ? '' : ' AND p.gate = ?';
  const by = order === 'rank' ? 'COALESCE(l.rank_order, d.rank_order) DESC, p.id' : 'p.asked_at, p.id';
  const ids = await manager.query<{ id: number }[]>(
    `SELECT p.id ${OPEN_PROPOSALS} AND ${sql}${ofGate} ORDER BY ${by} LIMIT ${SIZE} OFFSET ?`,
    [...parameters, ...(gate === undefined ? [] : [gate]), page * SIZE],
  );
  const shown = groups.filter((one) => gate === undefined || one.gate === gate);
  return {
    rows: await rowsOf(
      manager,
      ids.map(({ id }) => id),
      now,
    ),
    count: shown.reduce((sum, { n }) => sum + Number(n), 0),
    oldest: shown.length === 0 ? null : Math.min(...shown.map(({ oldest }) => oldest.getTime())),
    size: SIZE,
    gates: groups.map((one) => ({ gate: one.gate, count: Number(one.n) })),
  };
}

/** @throws Refused `not-found` for one that the user is not to decide, or that is no longer open */
export async function proposalDetail(
  manager: EntityManager,
  sight: Sight,
  user: User,
  id: number,
  now: Date,
): Promise<ProposalDetail> {
  const { sql, parameters } = decidedBy(sight, user);
  const [found] = await manager.query<{ record: number; asked_at: Date }[]>(
    `SELECT p.record, p.asked_at ${OPEN_PROPOSALS} AND ${sql} AND p.id = ?`,
    [...parameters, id],
  );
  const [row] = found === undefined ? [] : await rowsOf(manager, [id], now);
  if (found === undefined || row === undefined) throw Refused.notFound();
  const since = { record: found.record, at: MoreThan(found.asked_at) };
  const [changes, activities] = await Promise.all([
    manager.find(ChangeEntity, { where: since, order: { id: 'DESC' }, take: SINCE }),
    manager.find(ActivityEntity, { where: since, order: { at: 'DESC' }, take: SINCE }),
  ]);
  return {
    ...row,
    changes: changes.map(changeLine),
    activities: activities.map(({ kind, at, properties }) => ({
      ...{ kind, at: at.getTime() },
      ...(properties === null ? {} : { properties }),
    })),
  };
}

async function rowsOf(manager: EntityManager, ids: readonly number[], now: Date): Promise<ProposalRow[]> {
  if (ids.length === 0) return [];
  const governing = await readGoverning(manager, 'none');
  const found = await manager.findBy(ProposalEntity, { id: In([...ids]) });
  const records = await askedRecords(
    manager,
    found.map(({ record }) => record),
    governing,
  );
  const wording = wordingOf(governing);
  return ids.flatMap((id): ProposalRow[] => {
    const proposal = found.find((one) => one.id === id);
    const about = records.get(proposal?.record ?? 0);
    if (proposal === undefined || about === undefined) return [];
    const asking = gatesNow(governing.ready, about.facts, governing.world, now.getTime()).find(
      ({ gate }) => gate.look === proposal.look,
    );
    if (asking === undefined) return [];
    const words = accountWords(asking.account, wording);
    return [
      {
        ...{ id, gate: proposal.gate, askedAt: proposal.askedAt.getTime(), record: about.shown },
        pick: asking.account.answer === 'yes' ? asking.pick : null,
        why: words,
        outcomes: asking.outcomes.map(({ to, account }) => ({
          to,
          why: account === null ? '' : accountWords(account, wording),
        })),
      },
    ];
  });
}

interface AskedAbout {
  readonly shown: AskedRecord;
  readonly facts: MovingRecord;
}

/** The leads and deals of proposals, as they are shown and as gates read them; by id. */
async function askedRecords(
  manager: EntityManager,
  ids: readonly number[],
  { ready }: Governing,
): Promise<Map<number, AskedAbout>> {
  const leads = await withTiedValues(manager, await loadLeads(manager, ids, 'none'), ready.rules.lead.tied);
  const grades = await ShownGrades.of(
    manager,
    leads.map(({ entity }) => entity),
  );
  const known = new Set(leads.map(({ entity }) => entity.id));
  const others = ids.filter((id) => !known.has(id));
  const deals = await loadDeals(manager, others, ready);
  const rows = await rowsOfRecords(
    manager,
    'deal',
    { all: true },
    deals.map(({ entity }) => entity),
  );
  return new Map([
    ...leads.map(({ entity, record }): [number, AskedAbout] => [
      entity.id,
      { shown: { kind: 'lead', ...rowOfLead(entity, grades) }, facts: record },
    ]),
    ...deals.map((deal, i): [number, AskedAbout] => {
      const { id, stage } = deal.entity;
      const { name = '', grade = null, fitBand = null, engagementBand = null, rank = null, ties } = rows[i] ?? {};
      const shown = { name, grade, fitBand, engagementBand, rank, company: ties?.company?.name ?? '', territory: null };
      return [id, { shown: { kind: 'deal', id, stage, ...shown }, facts: movingDeal(deal) }];
    }),
  ]);
}

function wordingOf({ ready: { charter }, world }: Governing): Wording {
  return { names: namesOf(charter, world), fields: world.fields, baseCurrency: charter.baseCurrency };
}

export function pastProposal(one: ProposalEntity): PastProposal {
  const { id, gate, state, pick, answer, rule, by, reason, why, askedAt, decidedAt } = one;
  return {
    ...{ id, gate, state, pick, answer, rule, by, reason, why },
    ...{ askedAt: askedAt.getTime(), decidedAt: decidedAt?.getTime() ?? null },
  };
}

/** Decisions of the people in sight about the proposals of a gate, over the last days. */
export async function concordance(
  manager: EntityManager,
  sight: Sight,
  gate: string,
  days: number,
  now: Date,
): Promise<GateConcordance> {
  const { ready } = await readGoverning(manager, 'none');
  const seen = sight.all ? '' : ' AND person IN (?)';
  const rows = await manager.query<{ rule: string | null; answer: string | null; by: string; at: Date }[]>(
    `SELECT rule, answer, \`by\`, decided_at AS at FROM proposal WHERE gate = ? AND decided_at >= ? AND state IN ('taken', 'refused')${seen}`,
    [gate, new Date(now.getTime() - days * 86_400_000), ...(sight.all ? [] : [sight.owners])],
  );
  const judgements = rows.map(({ rule, answer, by, at }): Judgement => ({
    ...{ rule: rule as StageKey | null, person: answer as StageKey | null, by, at: at.getTime() },
  }));
  const stages = allStages(ready.charter).map(({ key }) => key);
  return { gate, days, ...concordanceOf(judgements, stages, ready.charter.timeZone) };
}
