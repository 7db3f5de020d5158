import type { LeadPage, LeadQuery, LeadRow, SetScoreCell } from '@relvik/contracts';
import {
  bindCondition,
  type Condition,
  dayNumber,
  dayOf,
  fold,
  type Problem,
  readableIn,
  readCondition,
  Spot,
} from '@relvik/core';
import { type EntityManager, In, type SelectQueryBuilder } from 'typeorm';
import { Refused } from '../api/refused';
import { readGoverning } from '../charter/charter-store';
import { conditionSql, type SqlPart } from '../condition/condition-sql';
import { scoresAsOf } from '../decide/pass-time';
import { SOURCE_FIELD } from '../home/watershed';
import { inSight, type Sight } from '../people/sight';
import { FieldValueEntity } from './field-value.entity';
import { goOn, heldTo, type Mark, markText, ORDERINGS, orderOf, readMark } from './lead-order';
import { placeOf } from './lead-store';
import { LeadEntity } from './lead.entity';
import { NO_RANK } from './scored.entity';
import { SideScoreEntity } from './side-score.entity';

/** What a list shows of a lead, and what tells where it is. */
const LISTED = [
  ...(['id', 'name', 'company', 'status', 'admitted', 'scoreSet', 'fit', 'engagement', 'rankOrder'] as const),
  ...(['fitBand', 'engagementBand', 'grade', 'verdict', 'stage', 'territory', 'arrived'] as const),
  ...(['place', 'owner', 'queue', 'bay'] as const),
] satisfies (keyof LeadEntity)[];

type Listed = Pick<LeadEntity, (typeof LISTED)[number]>;

/** The same as it is read: plain rows, since entities of a page would cost more than finding it. */
type ListedRow = Omit<Listed, 'bay'> & { readonly bay: string | null };

function listed({ bay, ...row }: ListedRow): Listed {
  return { ...row, bay: bay === null ? null : (JSON.parse(bay) as Listed['bay']) };
}

/** A lead as a list shows it. */
export function rowOfLead(lead: Listed): Omit<LeadRow, 'values' | 'scores'> {
  const { id, name, company, status, fit, engagement, fitBand, engagementBand, grade, stage, territory, arrived } =
    lead;
  const { admitted, scoreSet } = lead;
  return {
    admitted,
    scoreSet,
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

function filtered(
  query: SelectQueryBuilder<LeadEntity>,
  by: LeadQuery,
  when: SqlPart | null,
): SelectQueryBuilder<LeadEntity> {
  const { status = 'open', place, owner, queue, stage, territory, grade, verdict, fit, source, team, least, find } = by;
  if (when !== null) query.andWhere(when.sql, when.parameters);
  if (status !== 'any') query.andWhere('lead.status = :status', { status });
  for (const [column, value] of Object.entries({ place, owner, queue, stage, grade, verdict })) {
    if (value !== undefined) query.andWhere(`lead.${column} = :${column}`, { [column]: value });
  }
  if (fit === 'none') query.andWhere('lead.fitBand IS NULL');
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

/** What is asked of the leads of a list beside its plain filters, and what asks it: its condition, names of bands. */
function asked({ when, fit, engagement }: LeadQuery, spot: Spot): (readonly [by: string, condition: Condition])[] {
  const band = (by: string, field: string, value: string | undefined): (readonly [string, Condition])[] =>
    value === undefined || value === 'none' ? [] : [[by, { test: 'is', field, value }]];
  return [
    ...(when === undefined || when === '' ? [] : [['when', readCondition(jsonIn(when), spot.at('when'))] as const]),
    ...band('fit', 'fit_band', fit),
    ...band('engagement', 'engagement_band', engagement),
  ];
}

/** What is asked of the leads of a list, ready for the database; null: nothing. */
async function conditionOf(manager: EntityManager, query: LeadQuery, now: Date): Promise<SqlPart | null> {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const conditions = asked(query, spot);
  if (problems.length > 0) throw Refused.invalid(problems);
  if (conditions.length === 0) return null;
  const { ready: charter, world } = await readGoverning(manager, 'none');
  const scope = readableIn(charter.charter, world.fields, 'route');
  const of = conditions.map(([by, condition]) => bindCondition(condition, scope, spot.at(by)));
  if (problems.length > 0) throw Refused.invalid(problems);
  const today = dayNumber(dayOf(now.getTime(), charter.charter.timeZone));
  return conditionSql({ kind: 'all', of }, { charter, rates: world.rates, today });
}

function jsonIn(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw Refused.invalid([{ path: '/when', message: 'is no JSON' }]);
  }
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
  for (const { id, scoreSet, fit, engagement } of leads)
    if (scoreSet !== null && sets.includes(scoreSet)) scores.set(id, { [scoreSet]: { fit, engagement } });
  const beside = await manager.find(SideScoreEntity, {
    where: { record: In(leads.map(({ id }) => id)), scoreSet: In([...sets]) },
  });
  for (const { record, scoreSet, fit, engagement } of beside) {
    const own = scores.get(record);
    if (own !== undefined) own[scoreSet] = { fit, engagement };
  }
  return scores;
}

/** The statement that reads one page, and one lead more where another page follows. */
export async function pageStatement(
  manager: EntityManager,
  sight: Sight,
  by: LeadQuery,
  now: Date,
): Promise<[sql: string, parameters: unknown[]]> {
  const { order = 'rank', status, after, size = 50 } = by;
  const ordering = ORDERINGS[order];
  const when = await conditionOf(manager, by, now);
  const query = filtered(inSight(manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1'), sight), by, when);
  if (after !== undefined) goOn(query, ordering, readMark(after));
  query.select([]);
  for (const column of LISTED) query.addSelect(`lead.${column}`, column);
  const [sql, parameters] = query
    .orderBy(`lead.${ordering.column}`, ordering.way)
    .addOrderBy('lead.id', ordering.way)
    .limit(size + 1)
    .getQueryAndParameters();
  return [after === undefined || status === 'any' ? sql : heldTo(ordering, sql), parameters];
}

/** One page of leads in their order; the next page begins after this one's last row, however deep. */
export async function listLeads(manager: EntityManager, sight: Sight, by: LeadQuery, now: Date): Promise<LeadPage> {
  const { order = 'rank', size = 50 } = by;
  const ordering = ORDERINGS[order];
  const leads = (await manager.query<ListedRow[]>(...(await pageStatement(manager, sight, by, now)))).map(listed);
  const shown = leads.slice(0, size);
  const last = shown.at(-1);
  const mark: Mark | null = leads.length > size && last ? [orderOf(last, ordering), last.id] : null;
  const values = await valuesOf(
    manager,
    shown.map(({ id }) => id),
    fieldColumns(by),
  );
  const scores = await scoresOf(manager, shown, setColumns(by));
  return {
    rows: shown.map((lead) => ({
      ...rowOfLead(lead),
      values: values.get(lead.id) ?? {},
      scores: scores.get(lead.id) ?? {},
    })),
    asOf: (await scoresAsOf(manager, now)).getTime(),
    next: mark === null ? null : markText(mark),
  };
}

/** How many leads a list has in all. */
export async function countLeads(manager: EntityManager, sight: Sight, by: LeadQuery, now: Date): Promise<number> {
  const when = await conditionOf(manager, by, now);
  return filtered(inSight(manager.createQueryBuilder(LeadEntity, 'lead').where('1 = 1'), sight), by, when).getCount();
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
