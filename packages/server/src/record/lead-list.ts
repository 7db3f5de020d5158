import type { LeadPage, LeadQuery, LeadRow } from '@relvik/contracts';
import { fold } from '@relvik/core';
import type { EntityManager, SelectQueryBuilder } from 'typeorm';
import { Refused } from '../api/refused';
import { SOURCE_FIELD } from '../home/watershed';
import { inSight, type Sight } from '../people/sight';
import { LeadEntity, NO_RANK } from './lead.entity';
import { placeOf } from './lead-store';

/** Where a page ended. */
type Mark = readonly [order: number, id: number];

function readMark(after: string): Mark {
  try {
    const mark: unknown = JSON.parse(Buffer.from(after, 'base64url').toString());
    if (Array.isArray(mark) && mark.length === 2 && mark.every((part) => typeof part === 'number'))
      return mark as unknown as Mark;
  } catch {
    // Falls through to the refusal.
  }
  throw Refused.invalid([{ path: '/after', message: 'is not where a page ended' }]);
}

/** A lead as a list shows it. */
export function rowOfLead(lead: LeadEntity): LeadRow {
  const { id, name, company, status, fit, engagement, fitBand, engagementBand, grade, stage, territory, arrived } =
    lead;
  return {
    id,
    name,
    company,
    status,
    fit,
    engagement,
    fitBand,
    engagementBand,
    grade,
    stage,
    territory,
    rank: lead.rankOrder === NO_RANK ? null : lead.rankOrder,
    place: placeOf(lead),
    arrived: arrived.getTime(),
  };
}

function filtered(query: SelectQueryBuilder<LeadEntity>, by: LeadQuery): SelectQueryBuilder<LeadEntity> {
  const { status = 'open', place, owner, queue, stage, territory, grade, verdict, fit, source, team, least, find } = by;
  if (status !== 'any') query.andWhere('lead.status = :status', { status });
  for (const [column, value] of Object.entries({ place, owner, queue, stage, grade, verdict })) {
    if (value !== undefined) query.andWhere(`lead.${column} = :${column}`, { [column]: value });
  }
  if (fit === 'none') query.andWhere('lead.fitBand IS NULL');
  else if (fit !== undefined) query.andWhere('lead.fitBand = :fit', { fit: Number(fit) });
  if (source !== undefined)
    query.andWhere(
      'EXISTS (SELECT 1 FROM field_value v WHERE v.record = lead.id AND v.field = :sourceField AND v.folded = :source)',
      { sourceField: SOURCE_FIELD, source: fold(source) },
    );
  if (team !== undefined)
    query.andWhere("lead.place = 'owner' AND lead.owner IN (SELECT m.person FROM team_member m WHERE m.team = :team)", {
      team,
    });
  if (territory === 'none') query.andWhere('lead.territory IS NULL');
  else if (territory !== undefined) query.andWhere('lead.territory = :territory', { territory });
  if (least !== undefined) query.andWhere('lead.rankOrder >= :least', { least });
  if (find !== undefined) findIn(query, find);
  return query;
}

/** What the full-text index of InnoDB keeps at least, by its default. */
const SHORTEST_WORD = 3;

/** By e-mail where there is an @, else by the beginnings of words in name and company. */
function findIn(query: SelectQueryBuilder<LeadEntity>, find: string): void {
  if (find.includes('@')) {
    query.andWhere('lead.email LIKE :email', { email: `${fold(find).replace(/[\\%_]/g, '\\$&')}%` });
    return;
  }
  const words = find.split(/[^\p{L}\p{N}]+/u).filter(Boolean);
  // The index holds no shorter words; they are told apart by the longer ones beside them.
  const indexed = words.filter((word) => word.length >= SHORTEST_WORD);
  if (indexed.length > 0) {
    const all = indexed.map((word) => `+${word}*`).join(' ');
    query.andWhere('MATCH(lead.name, lead.company) AGAINST (:words IN BOOLEAN MODE)', { words: all });
  } else {
    query.andWhere('(lead.name LIKE :begins OR lead.company LIKE :begins)', { begins: `${words[0] ?? find}%` });
  }
}

/** One page of leads, ranked or newest first; the next page begins after this one's last row, however deep. */
export async function listLeads(manager: EntityManager, sight: Sight, by: LeadQuery): Promise<LeadPage> {
  const { order = 'rank', after, size = 50 } = by;
  const column = order === 'rank' ? 'lead.rankOrder' : 'lead.arrived';
  const query = filtered(inSight(manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1'), sight), by);
  if (after !== undefined) {
    const [value, id] = readMark(after);
    const at = order === 'rank' ? value : new Date(value);
    query.andWhere(`(${column} < :at OR (${column} = :at AND lead.id < :id))`, { at, id });
  }
  const leads = await query
    .orderBy(column, 'DESC')
    .addOrderBy('lead.id', 'DESC')
    .limit(size + 1)
    .getMany();
  const rows = leads.slice(0, size);
  const last = rows.at(-1);
  const mark: Mark | null =
    leads.length > size && last ? [order === 'rank' ? last.rankOrder : last.arrived.getTime(), last.id] : null;
  return {
    rows: rows.map(rowOfLead),
    next: mark === null ? null : Buffer.from(JSON.stringify(mark)).toString('base64url'),
  };
}

/** How many leads a list has in all. */
export async function countLeads(manager: EntityManager, sight: Sight, by: LeadQuery): Promise<number> {
  return filtered(inSight(manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1'), sight), by).getCount();
}

/** A lead in sight, or the refusal that does not tell whether it exists. */
export async function leadInSight(manager: EntityManager, sight: Sight, id: number): Promise<LeadEntity> {
  const lead = await inSight(
    manager.createQueryBuilder(LeadEntity, 'lead').where('lead.id = :id', { id }),
    sight,
  ).getOne();
  if (lead === null) throw Refused.notFound();
  return lead;
}
