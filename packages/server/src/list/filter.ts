import type { LeadQuery, RecordQuery } from '@relvik/contracts';
import {
  type Axis,
  bindCondition,
  type Condition,
  fold,
  keyOfRole,
  type Problem,
  readableIn,
  readCondition,
  Spot,
  type TieKind,
} from '@relvik/core';
import type { EntityManager, ObjectLiteral, SelectQueryBuilder } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { conditionSql, type SqlPart } from './condition-sql';
import { countHappened } from './count-happened';
import { patternOf } from './like';
import type { ListKind } from './list-kinds';

/** Filters of a list of any kind; the schema of a kind has refused those that do not suit it. */
export type ListQuery = LeadQuery & Pick<RecordQuery, 'lead'>;

/** Narrows a query over `r` to what is asked of a list, all but whose scores rank it. */
export function filtered<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  list: ListKind,
  by: ListQuery,
  { when, source: sourceField }: Asked,
): SelectQueryBuilder<T> {
  const { status = 'open', place, owner, queue, stage, acceptance, territory, verdict, fit, source, team, find } = by;
  if (when !== null) query.andWhere(when.sql, when.parameters);
  if (list.hasStatus && status !== 'any') query.andWhere('r.status = :status', { status });
  for (const [column, value] of Object.entries({ place, owner, queue, stage, acceptance, verdict })) {
    if (value !== undefined) query.andWhere(`r.${column} = :${column}`, { [column]: value });
  }
  if (by.gradedBy !== undefined) query.andWhere('r.score_set = :gradedBy', { gradedBy: by.gradedBy });
  if (fit === 'none') query.andWhere('r.fitBand IS NULL');
  for (const [kind, column] of Object.entries(list.ties))
    if (by[kind as TieKind | 'lead'] !== undefined)
      query.andWhere(`r.${column} = :${kind}`, { [kind]: by[kind as TieKind | 'lead'] });
  if (source !== undefined)
    query.andWhere(
      'EXISTS (SELECT 1 FROM field_value v WHERE v.record = r.id AND v.field = :sourceField AND v.folded = :source)',
      { sourceField, source: fold(source) },
    );
  if (team !== undefined)
    query.andWhere('r.owner IN (SELECT m.person FROM team_member m WHERE m.team = :team)', {
      team,
    });
  if (territory === 'none') query.andWhere('r.territory IS NULL');
  else if (territory !== undefined) query.andWhere('r.territory = :territory', { territory });
  if (find !== undefined) findIn(query, list, find);
  return query;
}

/** Narrows a query over `r` to those that a set scores, with a rank of at least so much; no set: whichever grades them. */
export function scoredBy<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  { set, least }: ListQuery,
): SelectQueryBuilder<T> {
  if (set === undefined) return least === undefined ? query : query.andWhere('r.rankOrder >= :least', { least });
  const enough = (of: string): string => (least === undefined ? '' : ` AND ${of}.rank_order >= :least`);
  return query.andWhere(
    `(r.score_set = :set${enough('r')} OR EXISTS (SELECT 1 FROM side_score s WHERE s.record = r.id AND s.score_set = :set${enough('s')}))`,
    { set, least },
  );
}

/** The shortest word in a full-text index of InnoDB, by its default. */
const SHORTEST_WORD = 3;

/** By e-mail where there is an @, else by the beginnings of words in its name, and in that of its company. */
export function findIn<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  { email, words: columns }: ListKind,
  find: string,
): void {
  if (email !== null && find.includes('@')) {
    query.andWhere(`r.${email} LIKE :email`, { email: patternOf('starts-with', fold(find)) });
    return;
  }
  const words = find.split(/[^\p{L}\p{N}]+/u).filter(Boolean);
  // The index holds no shorter words; they are told apart by the longer ones beside them.
  const indexed = words.filter((word) => word.length >= SHORTEST_WORD);
  if (indexed.length > 0) {
    const all = indexed.map((word) => `+${word}*`).join(' ');
    const match = columns.map((column) => `r.${column}`).join(', ');
    query.andWhere(`MATCH(${match}) AGAINST (:words IN BOOLEAN MODE)`, { words: all });
  } else {
    const begins = columns.map((column) => `r.${column} LIKE :begins`).join(' OR ');
    query.andWhere(`(${begins})`, { begins: patternOf('starts-with', words[0] ?? find) });
  }
}

/** The condition of a list and the bands it names, bound to the charter in force. */
function asked({ when, fit, engagement }: ListQuery, spot: Spot): (readonly [by: string, condition: Condition])[] {
  const band = (axis: Axis, value: string | undefined): (readonly [string, Condition])[] =>
    value === undefined || value === 'none'
      ? []
      : [[axis, { test: 'one-of', subject: { kind: 'band', axis }, values: [value] }]];
  return [
    ...(when === undefined || when === '' ? [] : [['when', readCondition(jsonIn(when), spot.at('when'))] as const]),
    ...band('fit', fit),
    ...band('engagement', engagement),
  ];
}

/** Binds the condition of a list and the bands it names to the charter in force. */
export interface Asked {
  readonly when: SqlPart | null;
  /** The field that says where leads came from. */
  readonly source: string | null;
}

/** Reads what is asked of a list beside its plain filters. */
export async function askedOf(manager: EntityManager, list: ListKind, query: ListQuery, now: Date): Promise<Asked> {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const conditions = asked(query, spot);
  if (problems.length > 0) throw Refused.invalid(problems);
  const { ready: charter, world } = await readGoverning(manager, 'none');
  const source = keyOfRole(world.fields, 'lead', 'source');
  if (conditions.length === 0) return { when: null, source };
  const scope = readableIn(charter.charter, world, 'list', list.kind);
  const of = conditions.map(([by, condition]) => bindCondition(condition, scope, spot.at(by)));
  if (problems.length > 0) throw Refused.invalid(problems);
  const condition = { kind: 'all', of } as const;
  const happened = await countHappened(manager, list, condition, now);
  return { when: conditionSql(condition, { list, charter, world, now: now.getTime(), happened }), source };
}

function jsonIn(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw Refused.invalid([{ path: '/when', message: 'is no JSON' }]);
  }
}
