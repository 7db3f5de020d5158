import type { AskedCells, SetScoreCell } from '@relvik/contracts';
import { type EntityManager, In, type ObjectLiteral, type SelectQueryBuilder } from 'typeorm';
import { recordsInSight, type Sight } from '../session/sight';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import type { ScoredEntity } from '../store/entity/scored.entity';
import { shownScores } from '../store/entity/scored.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { askedOf, filtered, type ListQuery, scoredBy } from './filter';
import type { ListKind } from './list-kinds';
import { nextTasks } from './tasks';
import { beforeOrAfter, goOn, heldTo, markOf, markText, ORDERINGS, type Ranks, ranksOf, readMark } from './order';

/** The columns that lists of every kind read. */
const SCORES = [
  ...(['admitted', 'scoreSet', 'fit', 'engagement', 'rankOrder'] as const),
  ...(['fitBand', 'engagementBand', 'verdict'] as const),
] satisfies (keyof ScoredEntity)[];

/** A row of a list of any kind. Plain rows: making entities of a page would cost more than finding it. */
export type Scored = Pick<ScoredEntity, (typeof SCORES)[number]> & {
  readonly id: number;
  readonly name: string;
  readonly charter: number | null;
};

/** Reads the rows of a page, each with where it stands in the order. */
export type PageStatement = readonly [sql: string, parameters: unknown[]];

/**
 * The statements that together hold one page, and one record more where another page follows: one, or two where a score set
 * ranks it, which grades some records and scores others beside.
 */
export async function pageStatements(
  manager: EntityManager,
  list: ListKind,
  sight: Sight,
  by: ListQuery,
  now: Date,
): Promise<PageStatement[]> {
  const { order = 'rank', status, after, size = 50 } = by;
  const { column, way } = ORDERINGS[order];
  const asked = await askedOf(manager, list, by, now);
  const mark = after === undefined ? null : readMark(after);
  return ranksOf(by).map((ranks): PageStatement => {
    const query = filtered(recordsInSight(over(manager, list, ranks), list.kind, sight), list, by, asked);
    // In the order of arrival one walk meets both kinds of scores.
    if (column === 'arrived') scoredBy(query, by);
    else scoredIn(query, ranks, by);
    const id = ranks === 'side' ? 'side.record' : 'r.id';
    if (mark !== null) goOn(query, { here: `${ranks}.${column}`, id, way }, mark);
    query.select([]);
    for (const shown of [...SCORES, ...list.columns]) query.addSelect(`r.${shown}`, shown);
    const [sql, parameters] = query
      .addSelect(`${ranks}.${column}`, 'stands')
      .orderBy(`${ranks}.${column}`, way)
      .addOrderBy(id, way)
      .limit(size + 1)
      .getQueryAndParameters();
    return [mark === null || (list.hasStatus && status === 'any') ? sql : heldTo(list, order, ranks, sql), parameters];
  });
}

/** Narrows one of the two to whom a set scores there, with a rank of at least so much; no set: whichever grades them. */
function scoredIn(query: SelectQueryBuilder<ObjectLiteral>, ranks: Ranks, { set, least }: ListQuery): void {
  if (set !== undefined) query.andWhere(`${ranks}.scoreSet = :set`, { set });
  if (least !== undefined) query.andWhere(`${ranks}.rankOrder >= :least`, { least });
}

/** Begins a query over the records of a kind, as `r`. */
export function over(
  manager: EntityManager,
  { entity }: ListKind,
  ranks: Ranks = 'r',
): SelectQueryBuilder<ObjectLiteral> {
  return ranks === 'r'
    ? manager.createQueryBuilder(entity, 'r').where('1 = 1')
    : manager.createQueryBuilder(SideScoreEntity, 'side').innerJoin(entity, 'r', 'r.id = side.record');
}

/** The rows of a page in their order, and where the next begins; null on the last page. */
export async function pageOf(
  manager: EntityManager,
  list: ListKind,
  sight: Sight,
  by: ListQuery,
  now: Date,
): Promise<{ readonly rows: Scored[]; readonly next: string | null }> {
  const { order = 'rank', size = 50 } = by;
  const found: (Scored & { readonly stands: number | Date | null })[] = [];
  for (const [sql, parameters] of await pageStatements(manager, list, sight, by, now))
    found.push(...(await manager.query<typeof found>(sql, parameters)));
  const marked = found.map((row) => ({ row, mark: markOf(row.stands, row.id) }));
  const inOrder = marked.sort((a, b) => beforeOrAfter(order, a.mark, b.mark));
  const last = inOrder.length > size ? inOrder[size - 1] : undefined;
  return {
    rows: inOrder.slice(0, size).map(({ row }) => row),
    next: last === undefined ? null : markText(last.mark),
  };
}

/** How many records a list has in all. */
export async function countOf(
  manager: EntityManager,
  list: ListKind,
  sight: Sight,
  by: ListQuery,
  now: Date,
): Promise<number> {
  const asked = await askedOf(manager, list, by, now);
  let count = 0;
  for (const ranks of by.set === undefined ? (['r'] as const) : (['r', 'side'] as const)) {
    const query = filtered(recordsInSight(over(manager, list, ranks), list.kind, sight), list, by, asked);
    scoredIn(query, ranks, by);
    const row = await query.select('COUNT(*)', 'count').getRawOne<{ count: string }>();
    count += Number(row?.count);
  }
  return count;
}

/** The keys among the columns of a list that have a prefix: of fields, or of score sets. */
export function columnsWith(prefix: 'field:' | 'set:', { columns }: ListQuery): string[] {
  return (columns ?? '').split(',').flatMap((key) => (key.startsWith(prefix) ? [key.slice(prefix.length)] : []));
}

/** The cells of each record, by id. */
export async function cellsOf(
  manager: EntityManager,
  rows: readonly Scored[],
  by: ListQuery,
): Promise<(id: number) => AskedCells> {
  const ids = rows.map(({ id }) => id);
  const values = await valuesOf(manager, ids, columnsWith('field:', by));
  const scores = await scoresOf(manager, rows, columnsWith('set:', by));
  const tasks = (by.columns ?? '').split(',').includes('task') ? await nextTasks(manager, ids) : null;
  return (id) => ({
    values: values.get(id) ?? {},
    scores: scores.get(id) ?? {},
    nextTask: tasks?.get(id) ?? null,
  });
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

/** The scores that sets give records, as the grading set or beside it. */
async function scoresOf(
  manager: EntityManager,
  rows: readonly Scored[],
  sets: readonly string[],
): Promise<ReadonlyMap<number, Record<string, SetScoreCell>>> {
  const scores = new Map(rows.map(({ id }): [number, Record<string, SetScoreCell>] => [id, {}]));
  if (rows.length === 0 || sets.length === 0) return scores;
  for (const row of rows)
    if (row.scoreSet !== null && sets.includes(row.scoreSet)) scores.set(row.id, { [row.scoreSet]: shownScores(row) });
  const beside = await manager.find(SideScoreEntity, {
    where: { record: In(rows.map(({ id }) => id)), scoreSet: In([...sets]) },
  });
  for (const side of beside) {
    const own = scores.get(side.record);
    if (own !== undefined) own[side.scoreSet] = shownScores(side);
  }
  return scores;
}
