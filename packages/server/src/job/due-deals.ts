import { type Reach, touchedSince } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { RELVIK } from '../act/cause';
import type { ChangeSource } from '../act/change-source';
import { type DealAct, decideDeals } from '../act/decide-deals';
import { JobEntity } from '../store/entity/charter.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { governedBy, type Governing, readGoverning } from '../store/governing';
import { loadDeals, type StoredDeal } from '../store/moving-deal';
import { OCCASION_OF_REACH } from './rescore';

const DAY = 86_400_000;

/**
 * Decides deals that are due: those with which something happened, and those whom the charter that came into force looks at, by that; those
 * for which only time passed by the charter that decided them last.
 *
 * @returns how many were decided
 */
export async function decideDueDeals(manager: EntityManager, ids: readonly number[], now: Date): Promise<number> {
  const inForce = await readGoverning(manager, 'share');
  const deals = await loadDeals(manager, ids, inForce.ready, 'write');
  const enacted = await lastEnacted(manager, deals, inForce);
  const by: ChangeSource = { cause: RELVIK, at: now, origin: 'trusted' };
  const byCharter = new Map<Governing, DealAct[]>();
  for (const deal of deals) {
    const { charter, touched, id } = deal.entity;
    const deciding = touched || charter === null ? inForce : await governedBy(manager, charter, inForce);
    if (deciding === null) {
      // A charter that names what is gone moves nothing, and is tried again.
      await manager.update(DealEntity, id, { due: new Date(now.getTime() + DAY) });
      continue;
    }
    const occasion = touched ? 'activity' : charter === null ? occasionOf(deal, enacted, inForce) : 'time';
    const acts = byCharter.get(deciding) ?? [];
    byCharter.set(deciding, acts);
    const isEnacted = !touched && charter === null && enacted !== null;
    acts.push({
      ...{ deal, occasion, person: null, values: new Map(), by },
      withoutTasks: isEnacted && !enacted.tasks,
    });
  }
  for (const [deciding, acts] of byCharter) await decideDeals(manager, acts, deciding, inForce);
  return deals.length;
}

/** The enacting of the charter in force; null: no deal asks for it. */
async function lastEnacted(
  manager: EntityManager,
  deals: readonly StoredDeal[],
  { number }: Governing,
): Promise<JobEntity | null> {
  if (!deals.some(({ entity: { touched, charter } }) => !touched && charter === null)) return null;
  return manager.findOne(JobEntity, { where: { charter: number }, order: { id: 'DESC' } });
}

/** How far enacting goes with a deal: gates only for those that it was to choose; all are scored. */
function occasionOf({ entity }: StoredDeal, enacted: JobEntity | null, { ready }: Governing): DealAct['occasion'] {
  if (enacted === null) return 'created';
  const { scope, reach, startedAt } = enacted;
  const zone = ready.charter.timeZone;
  const isChosen =
    scope.which === 'all' ||
    (scope.which === 'touched' && entity.touchedAt.getTime() >= touchedSince(startedAt.getTime(), scope.months, zone));
  const far: Reach = isChosen ? reach : 'score';
  return OCCASION_OF_REACH[far];
}
