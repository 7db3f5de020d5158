import type { LeadQuery } from '@relvik/contracts';
import {
  type Axis,
  bindCondition,
  type Condition,
  fold,
  type Problem,
  readableIn,
  readCondition,
  Spot,
} from '@relvik/core';
import type { EntityManager, ObjectLiteral, SelectQueryBuilder } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { conditionSql, type SqlPart } from './condition-sql';
import { countHappened } from './count-happened';
import { SOURCE_FIELD } from '../watershed/watershed';

/** Narrows a query over `lead` to what is asked of a list, all but whose scores rank it. */
export function filtered<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  by: LeadQuery,
  when: SqlPart | null,
): SelectQueryBuilder<T> {
  const { status = 'open', place, owner, queue, stage, territory, verdict, fit, source, team, find } = by;
  if (when !== null) query.andWhere(when.sql, when.parameters);
  if (status !== 'any') query.andWhere('lead.status = :status', { status });
  for (const [column, value] of Object.entries({ place, owner, queue, stage, verdict })) {
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
  if (find !== undefined) findIn(query, find);
  return query;
}

/** Narrows a query over `lead` to those that a set scores, with a rank of at least so much; no set: whichever grades them. */
export function scoredBy<T extends ObjectLiteral>(
  query: SelectQueryBuilder<T>,
  { set, least }: LeadQuery,
): SelectQueryBuilder<T> {
  if (set === undefined) return least === undefined ? query : query.andWhere('lead.rankOrder >= :least', { least });
  const enough = (of: string): string => (least === undefined ? '' : ` AND ${of}.rank_order >= :least`);
  return query.andWhere(
    `(lead.score_set = :set${enough('lead')} OR EXISTS (SELECT 1 FROM side_score s WHERE s.record = lead.id AND s.score_set = :set${enough('s')}))`,
    { set, least },
  );
}

/** What the full-text index of InnoDB keeps at least, by its default. */
const SHORTEST_WORD = 3;

/** By e-mail where there is an @, else by the beginnings of words in name and company. */
function findIn<T extends ObjectLiteral>(query: SelectQueryBuilder<T>, find: string): void {
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

/** What is asked of the leads of a list, ready for the database; null: nothing. */
export async function conditionOf(manager: EntityManager, query: LeadQuery, now: Date): Promise<SqlPart | null> {
  const problems: Problem[] = [];
  const spot = Spot.root(problems);
  const conditions = asked(query, spot);
  if (problems.length > 0) throw Refused.invalid(problems);
  if (conditions.length === 0) return null;
  const { ready: charter, world } = await readGoverning(manager, 'none');
  const scope = readableIn(charter.charter, world, 'list', 'lead');
  const of = conditions.map(([by, condition]) => bindCondition(condition, scope, spot.at(by)));
  if (problems.length > 0) throw Refused.invalid(problems);
  const condition = { kind: 'all', of } as const;
  const happened = await countHappened(manager, condition, now);
  return conditionSql(condition, { charter, world, now: now.getTime(), happened });
}

function jsonIn(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    throw Refused.invalid([{ path: '/when', message: 'is no JSON' }]);
  }
}
