import type { Bay, BayGroup } from '@relvik/contracts';
import { type BayReason, decide, type Decision } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Sight } from '../session/sight';
import { BayAlarmEntity } from '../store/entity/bay.entity';
import { type Governing, readGoverning } from '../store/governing';
import { NO_RANK } from '../store/entity/scored.entity';
import { loadLeads, withTiedValues } from '../store/load-leads';
import { peekRota } from '../store/rota';

/** Groups that are shown, the longest waiting first. */
const GROUPS = 50;
/** Leads that are named of each. */
const NAMED = 25;

interface Waiting {
  readonly id: number;
  readonly name: string;
  readonly company: string;
  readonly rank: number | null;
  readonly since: Date;
}

/**
 * The leads that wait in the bay, by what they wait for: how many, since when, and who of those that the route leads to could
 * take the oldest, or why not.
 */
export async function bayOf(manager: EntityManager, sight: Sight, now: Date): Promise<Bay> {
  const alarm = await manager.findOneBy(BayAlarmEntity, { id: 1 });
  const tellAfter = alarm?.hours ?? null;
  const teams = sight.all ? [] : sight.leads;
  if (!sight.all && teams.length === 0) return { groups: [], tellAfter };
  const inSight = `place = 'bay' AND status = 'open'${sight.all ? '' : ' AND bay_team IN (?)'}`;
  const groups = await manager.query<{ bay: string; leads: string; since: Date }[]>(
    `SELECT bay, COUNT(*) AS leads, MIN(since) AS since FROM \`lead\` WHERE ${inSight} GROUP BY bay ORDER BY MIN(since) LIMIT ${GROUPS}`,
    sight.all ? [] : [teams],
  );
  const governing = await readGoverning(manager, 'none');
  const shown: BayGroup[] = [];
  for (const { bay, leads, since } of groups) {
    const oldest = await manager.query<Waiting[]>(
      `SELECT id, name, company, NULLIF(rank_order, ${NO_RANK}) AS rank, since FROM \`lead\` WHERE ${inSight} AND bay = ? ORDER BY since, id LIMIT ${NAMED}`,
      [...(sight.all ? [] : [teams]), bay],
    );
    shown.push({
      reason: JSON.parse(bay) as BayReason,
      leads: Number(leads),
      since: since.getTime(),
      oldest: oldest.map((one) => ({ ...one, since: one.since.getTime() })),
      skipped: await skippedFor(manager, oldest[0]?.id ?? 0, governing, now),
    });
  }
  return { groups: shown, tellAfter };
}

/** The people who would be passed over if a lead were placed now, with the reasons. */
async function skippedFor(
  manager: EntityManager,
  id: number,
  { ready, world }: Governing,
  now: Date,
): Promise<Decision['skipped']> {
  const { tied } = ready.rules.lead;
  const [lead] = await withTiedValues(manager, await loadLeads(manager, [id], 'none'), tied);
  if (lead === undefined) return [];
  const rota = await peekRota(manager);
  return decide(ready, lead.record, { ...world, rota }, 'freed', now.getTime()).skipped;
}
