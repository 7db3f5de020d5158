import type { LeadPage, LeadQuery, ShortLead } from '@relvik/contracts';
import type { EntityManager } from 'typeorm';
import { scoresAsOf } from '../job/pass-time';
import { Refused } from '../problem/refused';
import { inSight, type Sight } from '../session/sight';
import { JoinedLeadEntity } from '../store/entity/joined-lead.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { shownScores } from '../store/entity/scored.entity';
import { placeOf } from '../store/load-leads';
import { gateCellsOf } from './gate-cells';
import { LIST_KINDS } from './list-kinds';
import { cellsOf, pageOf, type Scored } from './page';
import { ShownGrades } from './shown-grades';

type Listed = Scored &
  Pick<
    LeadEntity,
    | 'company'
    | 'status'
    | 'stage'
    | 'pipeline'
    | 'territory'
    | 'arrived'
    | 'place'
    | 'owner'
    | 'queue'
    | 'bay'
    | 'nobodyBecause'
    | 'acceptance'
  >;

/** The same as it is read. */
type ListedRow = Omit<Listed, 'bay'> & { readonly bay: string | null };

/** A lead as a list shows it. */
export function rowOfLead(lead: Listed, grades: ShownGrades): ShortLead {
  const { id, name, company, status, stage, pipeline, territory, arrived } = lead;
  const { admitted, scoreSet } = lead;
  return {
    admitted,
    scoreSet,
    id,
    name,
    company,
    status,
    ...shownScores(lead),
    ...grades.shown(lead),
    stage,
    pipeline,
    territory,
    place: placeOf(lead),
    acceptance: lead.acceptance,
    arrived: arrived.getTime(),
  };
}

/** One page of leads in their order; the next page begins after this one's last row, however deep. */
export async function listLeads(manager: EntityManager, sight: Sight, by: LeadQuery, now: Date): Promise<LeadPage> {
  const { rows: found, next } = await pageOf(manager, LIST_KINDS.lead, sight, by, now);
  const rows = found as ListedRow[];
  const shown = rows.map((row): Listed =>
    Object.assign(row, { bay: row.bay === null ? null : (JSON.parse(row.bay) as Listed['bay']) }),
  );
  const cells = await cellsOf(manager, shown, by);
  const grades = await ShownGrades.of(manager, shown);
  const gates = await gateCellsOf(manager, shown, by, now);
  return {
    rows: shown.map((lead) => Object.assign(rowOfLead(lead, grades), cells(lead.id), gates(lead.id))),
    asOf: (await scoresAsOf(manager, now)).getTime(),
    next,
  };
}

/** A lead in sight, or the refusal that does not tell whether it exists. One that was joined leads to the older one. */
export async function leadInSight(manager: EntityManager, sight: Sight, id: number): Promise<LeadEntity> {
  const lead = await inSight(
    manager.createQueryBuilder(LeadEntity, 'lead').where('lead.id = :id', { id }),
    sight,
  ).getOne();
  if (lead !== null) return lead;
  const joined = await manager.findOneBy(JoinedLeadEntity, { id });
  if (joined === null) throw Refused.notFound();
  return leadInSight(manager, sight, joined.older);
}
