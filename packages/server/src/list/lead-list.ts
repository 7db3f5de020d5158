import type { LeadPage, LeadQuery, LeadRow, SetScoreCell } from '@relvik/contracts';
import { type EntityManager, In, type ObjectLiteral, type SelectQueryBuilder } from 'typeorm';
import { Refused } from '../problem/refused';
import { scoresAsOf } from '../job/pass-time';
import { inSight, type Sight } from '../session/sight';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { conditionOf, filtered, scoredBy } from './lead-filter';
import { beforeOrAfter, goOn, heldTo, markOf, markText, ORDERINGS, type Ranks, ranksOf, readMark } from './lead-order';
import { placeOf } from '../store/load-leads';
import { JoinedLeadEntity } from '../store/entity/joined-lead.entity';
import { LeadEntity } from '../store/entity/lead.entity';
import { shownScores } from '../store/entity/scored.entity';
import { ShownGrades } from './shown-grades';
import { SideScoreEntity } from '../store/entity/side-score.entity';

/** What a list shows of a lead, and what tells where it is. */
const LISTED = [
  ...(['id', 'name', 'company', 'status', 'admitted', 'scoreSet', 'fit', 'engagement', 'rankOrder'] as const),
  ...(['fitBand', 'engagementBand', 'charter', 'verdict', 'stage', 'territory', 'arrived'] as const),
  ...(['place', 'owner', 'queue', 'bay'] as const),
] satisfies (keyof LeadEntity)[];

type Listed = Pick<LeadEntity, (typeof LISTED)[number]>;

/** The same as it is read: plain rows, since entities of a page would cost more than finding it. */
type ListedRow = Omit<Listed, 'bay'> & { readonly bay: string | null; readonly stands: number | Date | null };

function listed(row: ListedRow): Listed {
  return Object.assign(row, { bay: row.bay === null ? null : (JSON.parse(row.bay) as Listed['bay']) });
}

/** A lead as a list shows it. */
export function rowOfLead(lead: Listed, grades: ShownGrades): Omit<LeadRow, 'values' | 'scores'> {
  const { id, name, company, status, stage, territory, arrived } = lead;
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
    territory,
    place: placeOf(lead),
    arrived: arrived.getTime(),
  };
}

/** The fields among the columns of a list. */
export function fieldColumns({ columns }: LeadQuery): string[] {
  const prefix = 'field:';
  return (columns ?? '').split(',').flatMap((key) => (key.startsWith(prefix) ? [key.slice(prefix.length)] : []));
}

async function valuesOf(
  manager: EntityManager,
  ids: readonly number[],
  fields: readonly string[],
): Promise<ReadonlyMap<number, Record<string, string>>> {
  const values = new Map(ids.map((id): [number, Record<string, string>] => [id, {}]));
  if (ids.length === 0 || fields.length === 0) return values;
  const rows = await manager.find(FieldValueEntity, {
    select: { record: true, field: true, shown: true },
    where: { record: In([...ids]), field: In([...fields]) },
  });
  for (const { record, field, shown } of rows) {
    const own = values.get(record);
    if (own !== undefined) own[field] = shown;
  }
  return values;
}

/** The score sets among the columns of a list. */
function setColumns({ columns }: LeadQuery): string[] {
  const prefix = 'set:';
  return (columns ?? '').split(',').flatMap((key) => (key.startsWith(prefix) ? [key.slice(prefix.length)] : []));
}

/** What sets give leads, whether they grade them or score them beside. */
async function scoresOf(
  manager: EntityManager,
  leads: readonly Listed[],
  sets: readonly string[],
): Promise<ReadonlyMap<number, Record<string, SetScoreCell>>> {
  const scores = new Map(leads.map(({ id }): [number, Record<string, SetScoreCell>] => [id, {}]));
  if (leads.length === 0 || sets.length === 0) return scores;
  for (const lead of leads)
    if (lead.scoreSet !== null && sets.includes(lead.scoreSet))
      scores.set(lead.id, { [lead.scoreSet]: shownScores(lead) });
  const beside = await manager.find(SideScoreEntity, {
    where: { record: In(leads.map(({ id }) => id)), scoreSet: In([...sets]) },
  });
  for (const side of beside) {
    const own = scores.get(side.record);
    if (own !== undefined) own[side.scoreSet] = shownScores(side);
  }
  return scores;
}

/** Reads the rows of a page, each with where it stands in the order. */
export type PageStatement = readonly [sql: string, parameters: unknown[]];

/**
 * The statements that together hold one page, and one lead more where another page follows: one, or two where a score set
 * ranks it, which grades some leads and scores others beside.
 */
export async function pageStatements(
  manager: EntityManager,
  sight: Sight,
  by: LeadQuery,
  now: Date,
): Promise<PageStatement[]> {
  const { order = 'rank', status, after, size = 50 } = by;
  const { column, way } = ORDERINGS[order];
  const when = await conditionOf(manager, by, now);
  const mark = after === undefined ? null : readMark(after);
  return ranksOf(by).map((ranks): PageStatement => {
    const query = filtered(inSight(overLeads(manager, ranks), sight), by, when);
    // In the order of arrival one walk meets both kinds.
    if (column === 'arrived') scoredBy(query, by);
    else scoredIn(query, ranks, by);
    const id = ranks === 'side' ? 'side.record' : 'lead.id';
    if (mark !== null) goOn(query, { here: `${ranks}.${column}`, id, way }, mark);
    query.select([]);
    for (const shown of LISTED) query.addSelect(`lead.${shown}`, shown);
    const [sql, parameters] = query
      .addSelect(`${ranks}.${column}`, 'stands')
      .orderBy(`${ranks}.${column}`, way)
      .addOrderBy(id, way)
      .limit(size + 1)
      .getQueryAndParameters();
    return [mark === null || status === 'any' ? sql : heldTo(order, ranks, sql), parameters];
  });
}

/** Narrows one of the two to whom a set scores there, with a rank of at least so much; no set: whichever grades them. */
function scoredIn(query: SelectQueryBuilder<ObjectLiteral>, ranks: Ranks, { set, least }: LeadQuery): void {
  if (set !== undefined) query.andWhere(`${ranks}.scoreSet = :set`, { set });
  if (least !== undefined) query.andWhere(`${ranks}.rankOrder >= :least`, { least });
}

function overLeads(manager: EntityManager, ranks: Ranks): SelectQueryBuilder<ObjectLiteral> {
  return ranks === 'lead'
    ? manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1')
    : manager.createQueryBuilder(SideScoreEntity, 'side').innerJoin(LeadEntity, 'lead', 'lead.id = side.record');
}

/** One page of leads in their order; the next page begins after this one's last row, however deep. */
export async function listLeads(manager: EntityManager, sight: Sight, by: LeadQuery, now: Date): Promise<LeadPage> {
  const { order = 'rank', size = 50 } = by;
  const found: ListedRow[] = [];
  for (const [sql, parameters] of await pageStatements(manager, sight, by, now))
    found.push(...(await manager.query<ListedRow[]>(sql, parameters)));
  const marked = found.map((row) => ({ lead: listed(row), mark: markOf(row.stands, row.id) }));
  const inOrder = marked.sort((a, b) => beforeOrAfter(order, a.mark, b.mark));
  const shown = inOrder.slice(0, size).map(({ lead }) => lead);
  const last = inOrder.length > size ? inOrder[size - 1] : undefined;
  const values = await valuesOf(
    manager,
    shown.map(({ id }) => id),
    fieldColumns(by),
  );
  const scores = await scoresOf(manager, shown, setColumns(by));
  const grades = await ShownGrades.of(manager, shown);
  return {
    rows: shown.map((lead) =>
      Object.assign(rowOfLead(lead, grades), { values: values.get(lead.id) ?? {}, scores: scores.get(lead.id) ?? {} }),
    ),
    asOf: (await scoresAsOf(manager, now)).getTime(),
    next: last === undefined ? null : markText(last.mark),
  };
}

/** How many leads a list has in all. */
export async function countLeads(manager: EntityManager, sight: Sight, by: LeadQuery, now: Date): Promise<number> {
  const when = await conditionOf(manager, by, now);
  let count = 0;
  for (const ranks of by.set === undefined ? (['lead'] as const) : (['lead', 'side'] as const)) {
    const query = filtered(inSight(overLeads(manager, ranks), sight), by, when);
    scoredIn(query, ranks, by);
    const row = await query.select('COUNT(*)', 'count').getRawOne<{ count: string }>();
    count += Number(row?.count);
  }
  return count;
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
