import type { CompanyDetail, CompanyPage, CompanyQuery, CompanyRow, SetScoreCell } from '@relvik/contracts';
import { companyRecord, fold, gradeRecord, type Score, showValue } from '@relvik/core';
import { type EntityManager, In, type SelectQueryBuilder } from 'typeorm';
import { Refused } from '../problem/refused';
import { readGoverning } from '../store/governing';
import { inSight, type Sight } from '../session/sight';
import { LeadEntity } from '../store/entity/lead.entity';
import { shownScores } from '../store/entity/scored.entity';
import { ShownGrades } from './shown-grades';
import { rowOfLead } from './lead-list';
import { beforeOrAfter, goOn, type Mark, markOf, markText, readMark } from './lead-order';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { CompanyEntity } from '../store/entity/company.entity';
import { leadsOfCompany } from '../store/load-companies';

/** Companies with some lead in sight. An admin sees them all: whose leads have all gone elsewhere is left out later. */
function companiesInSight(manager: EntityManager, sight: Sight): SelectQueryBuilder<CompanyEntity> {
  const query = manager.createQueryBuilder(CompanyEntity, 'company').where('1 = 1');
  if (sight.all) return query;
  const seen = inSight(
    manager.createQueryBuilder(LeadEntity, 'lead').select('lead.companyKey').where('lead.companyKey IS NOT NULL'),
    sight,
  );
  return query.andWhere(`company.folded IN (${seen.getQuery()})`).setParameters(seen.getParameters());
}

/** How many leads of each company are in sight. */
async function countLeadsOf(
  manager: EntityManager,
  sight: Sight,
  companies: readonly CompanyEntity[],
): Promise<ReadonlyMap<string, number>> {
  if (companies.length === 0) return new Map();
  const query = manager
    .createQueryBuilder(LeadEntity, 'lead')
    .select('lead.companyKey', 'key')
    .addSelect('COUNT(*)', 'count')
    .where('lead.companyKey IN (:...keys)', { keys: companies.map(({ folded }) => folded) });
  const rows = await inSight(query, sight).groupBy('lead.companyKey').getRawMany<{ key: string; count: string }>();
  return new Map(rows.map(({ key, count }) => [key, Number(count)]));
}

async function rowsOf(
  manager: EntityManager,
  sight: Sight,
  companies: readonly CompanyEntity[],
): Promise<CompanyRow[]> {
  const leads = await countLeadsOf(manager, sight, companies);
  const ids = companies.map(({ id }) => id);
  const beside = new Map<number, Record<string, SetScoreCell>>(ids.map((id) => [id, {}]));
  const sides = ids.length === 0 ? [] : await manager.findBy(SideScoreEntity, { record: In(ids) });
  for (const side of sides) {
    const own = beside.get(side.record);
    if (own !== undefined) own[side.scoreSet] = shownScores(side);
  }
  const grades = await ShownGrades.of(manager, companies);
  return companies.map((company): CompanyRow => {
    const { id, name, folded, admitted, scoreSet } = company;
    const scores = { admitted, scoreSet, ...shownScores(company), ...grades.shown(company) };
    return { id, name, leads: leads.get(folded) ?? 0, ...scores, beside: beside.get(id) ?? {} };
  });
}

/** Whose scores rank companies: what grades them, or what a set gives beside. */
type Ranks = 'company' | 'side';

function rankedBy(query: SelectQueryBuilder<CompanyEntity>, ranks: Ranks, set: string | undefined): void {
  if (ranks === 'side')
    query.innerJoin(SideScoreEntity, 'side', 'side.record = company.id AND side.scoreSet = :set', { set });
  else if (set !== undefined) query.andWhere('company.scoreSet = :set', { set });
}

function standing({ scoreSet, rank, id, beside }: CompanyRow, set: string | undefined): Mark {
  return markOf(set === undefined || scoreSet === set ? rank : (beside[set]?.rank ?? null), id);
}

/** One page of companies, the best rank first, of the set that grades each or of one for all; the next page begins after this one's last row. */
export async function listCompanies(
  manager: EntityManager,
  sight: Sight,
  { find, set, after, size = 50 }: CompanyQuery,
  now: Date,
): Promise<CompanyPage> {
  const found: CompanyEntity[] = [];
  for (const ranks of set === undefined ? (['company'] as const) : (['company', 'side'] as const)) {
    const query = companiesInSight(manager, sight);
    rankedBy(query, ranks, set);
    if (find !== undefined && find !== '')
      query.andWhere('company.folded LIKE :find', { find: `%${fold(find).replace(/[\\%_]/g, '\\$&')}%` });
    if (after !== undefined)
      goOn(query, { here: `${ranks}.rankOrder`, id: 'company.id', way: 'DESC' }, readMark(after));
    const page = query
      .orderBy(`${ranks}.rankOrder`, 'DESC')
      .addOrderBy('company.id', 'DESC')
      .limit(size + 1);
    found.push(...(await page.getMany()));
  }
  const rows = await rowsOf(manager, sight, found);
  rows.sort((a, b) => beforeOrAfter('rank', standing(a, set), standing(b, set)));
  const last = rows.length > size ? rows[size - 1] : undefined;
  const [due] = await manager.query<{ oldest: Date | null }[]>(
    'SELECT MIN(due) AS oldest FROM company WHERE due <= ?',
    [now],
  );
  return {
    rows: rows.slice(0, size).filter(({ leads }) => leads > 0),
    asOf: (due?.oldest ?? now).getTime(),
    next: last === undefined ? null : markText(standing(last, set)),
  };
}

const LEADS = 100;

/** What of a score tells nothing of leads that are out of sight: points, but not what they were read from. */
function withoutAccounts(score: Score): Score {
  const bare = <T extends Pick<Score, 'signals'>>(one: T): T => ({
    ...one,
    signals: one.signals.map((signal) => ({ ...signal, account: null, seen: null })),
  });
  return { ...bare(score), beside: score.beside.map(bare) };
}

/**
 * A company with all that its page shows; the account of its score is computed for the page.
 *
 * Who does not see all its leads is told its scores, and the values of those they see.
 */
export async function companyDetail(
  manager: EntityManager,
  sight: Sight,
  id: number,
  now: Date,
): Promise<CompanyDetail> {
  const company = await companiesInSight(manager, sight).andWhere('company.id = :company', { company: id }).getOne();
  const [row] = company === null ? [] : await rowsOf(manager, sight, [company]);
  if (company === null || row === undefined || row.leads === 0) throw Refused.notFound();
  const { ready, world } = await readGoverning(manager, 'none');
  const all = await leadsOfCompany(manager, company);
  const record = companyRecord(
    String(id),
    all.map((lead) => lead.record),
  );
  const asOf = now.getTime();
  const { score, grade } = gradeRecord(ready, record, world, asOf);
  const leads = inSight(
    manager.createQueryBuilder(LeadEntity, 'lead').where('lead.companyKey = :key', { key: company.folded }),
    sight,
  );
  const seen = await leads.orderBy('lead.rankOrder', 'DESC').addOrderBy('lead.id', 'DESC').getMany();
  const listed = seen.slice(0, LEADS);
  const grades = await ShownGrades.of(manager, listed);
  const ids = new Set(seen.map((lead) => lead.id));
  const known = all.filter(({ entity }) => ids.has(entity.id)).map((lead) => lead.record);
  return {
    ...row,
    values: [...companyRecord(String(id), known).values].map(([field, value]) => ({
      field,
      shown: showValue(value),
      unreadable: value.kind === 'unreadable' ? value.why : null,
    })),
    score: known.length === all.length ? score : withoutAccounts(score),
    gradedNow: grade,
    asOf,
    ofLeads: listed.map((lead) => rowOfLead(lead, grades)),
  };
}
