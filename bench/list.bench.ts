import type { LeadQuery } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { listRecords } from '../packages/server/src/list/record-list';
import { listLeads } from '../packages/server/src/list/lead-list';
import { LIST_KINDS } from '../packages/server/src/list/list-kinds';
import { type PageStatement, pageStatements } from '../packages/server/src/list/page';
import { Dice } from './dice';
import { atLeast, type Figure, letGo, median, ROUNDS } from './measure';
import { SCORE_SET } from './setting';

const ALL = { all: true } as const;
const NOW = new Date('2026-11-01T12:00:00Z');
const OWNERS = 40;
const INDUSTRIES = ['brewery', 'fish farm', 'waterworks', 'vineyard', 'golf course', 'pulp mill', 'other', 'mine'];

/** A million leads as lists see them: scores, places, one field; nothing that lists do not read. */
export async function storeMany(source: DataSource, count: number): Promise<void> {
  const dice = new Dice(5);
  const bands = { fit: SCORE_SET.grid.fit.bands, engagement: SCORE_SET.grid.engagement.bands };
  const at = new Date('2026-01-01T00:00:00Z');
  const columns =
    'id, version, name, company, status, stage, pipeline, place, stage_since, owner, since, admitted, score_set, fit, engagement, rank_order, fit_band, engagement_band, territory, looks, arrived, touched_at, way, charter, decided_at, changes_at, test';
  for (let first = 1; first <= count; first += 5000) {
    const leads = [];
    const values = [];
    const beside = [];
    for (let id = first; id < first + 5000; id += 1) {
      const [fit, engagement] = [dice.whole(101), dice.whole(101)];
      const owned = dice.chance(0.4);
      const arrived = new Date(at.getTime() + id * 9000);
      leads.push([
        ...[id, 1, `Person ${id}`, `Firm ${dice.whole(50_000)}`, dice.chance(0.7) ? 'open' : 'won'],
        ...[owned ? 'qualified' : 'new', 'leads', owned ? 'owner' : 'not-handed-over', arrived],
        ...[owned ? `r${dice.whole(OWNERS)}` : null],
        ...[
          arrived,
          'yes',
          SCORE_SET.key,
          fit,
          engagement,
          fit + engagement,
          bands.fit[fit >> 5]?.key ?? null,
          bands.engagement[engagement >> 5]?.key ?? null,
          `t${dice.whole(9)}`,
        ],
        ...['{}', arrived, arrived, 'api', 1, at, null, 0],
      ]);
      if (id % 3 === 0) beside.push([id, 'extra', engagement, fit, fit + engagement]);
      values.push([id, 'industry', 'text', 'x', dice.pick(INDUSTRIES)]);
    }
    await source.query(`INSERT INTO \`lead\` (${columns}) VALUES ?`, [leads]);
    await source.query('INSERT INTO field_value (record, field, kind, shown, folded) VALUES ?', [values]);
    await source.query('INSERT INTO side_score (record, score_set, fit, engagement, rank_order) VALUES ?', [beside]);
  }
  await source.query('ANALYZE TABLE `lead`, field_value, side_score');
}

/** A million deals as lists see them. */
export async function storeDeals(source: DataSource, count: number): Promise<void> {
  const dice = new Dice(6);
  const at = new Date('2026-01-01T00:00:00Z');
  const columns =
    'id, version, name, owner, arrived, touched_at, touched, changes, admitted, score_set, fit, engagement, rank_order, status, stage, stage_since';
  for (let first = 1; first <= count; first += 5000) {
    const deals = [];
    for (let id = first; id < first + 5000; id += 1) {
      const [fit, engagement] = [dice.whole(101), dice.whole(101)];
      const arrived = new Date(at.getTime() + id * 9000);
      const status = dice.chance(0.7) ? 'open' : 'won';
      deals.push([
        ...[id, 1, `Deal ${id}`, `r${dice.whole(OWNERS)}`, arrived, arrived, 0, 0, 'yes', 'deals'],
        ...[fit, engagement, fit + engagement, status, `deal-${status}`, arrived],
      ]);
    }
    await source.query(`INSERT INTO deal (${columns}) VALUES ?`, [deals]);
  }
  await source.query('ANALYZE TABLE deal');
}

async function took(work: () => Promise<unknown>): Promise<number> {
  const began = performance.now();
  await work();
  return performance.now() - began;
}

/** The order's index and whatever else would help are left aside. */
const WITHOUT = {
  lead: [...['rank', 'owner', 'stage', 'fit', 'engagement'], ...['arrival', 'change', 'territory', 'grade', 'place']],
  deal: ['rank', 'owner', 'stage', 'fit', 'engagement', 'arrival'],
};

/** Statements of a millisecond are taken so often in a round: one alone would tell of the machine. */
const TURNS = 5;

interface Query {
  readonly owner?: string | undefined;
  readonly least?: number | undefined;
  readonly after?: string | undefined;
}
type ReadPage = (
  by: Query,
) => Promise<{ readonly rows: readonly { readonly id: number }[]; readonly next: string | null }>;

/** The statements of S7 over one kind, each pair checked to give the same rows. */
async function pairsOf(source: DataSource, kind: 'lead' | 'deal', page: ReadPage) {
  const { manager } = source;
  const statementOf = async (by: Query): Promise<PageStatement> => {
    const [statement] = await pageStatements(manager, LIST_KINDS[kind], ALL, by, NOW);
    if (statement === undefined) throw new Error('A page has no statement');
    return statement;
  };
  const filtered: Query = { owner: 'r7', least: 60 };
  const [quick, asks] = await statementOf(filtered);
  const without = `IGNORE INDEX (${WITHOUT[kind].map((by) => `${kind}_by_${by}`).join(', ')})`;
  const plain = quick.replace(`FROM \`${kind}\` \`r\``, `FROM \`${kind}\` \`r\` ${without}`);
  if (plain === quick) throw new Error('The statement uses its index still');
  const same = (await page(filtered)).rows.map(({ id }) => id);
  const slowly = (await source.query<{ id: number }[]>(plain, asks)).slice(0, 50).map(({ id }) => id);
  if (same.length !== 50 || JSON.stringify(same) !== JSON.stringify(slowly)) throw new Error('The pages differ');

  let after: string | null = null;
  const deep: Query = {};
  for (let n = 0; n < 100; n += 1) after = (await page({ ...deep, after: after ?? undefined })).next;
  const mark = after ?? '';
  // The same columns of the same rows.
  const keyset = await statementOf({ ...deep, after: mark });
  const [first, parameters] = await statementOf(deep);
  const offset: PageStatement = [`${first} OFFSET 5000`, parameters];
  const idsOf = async ([sql, asks]: PageStatement): Promise<number[]> =>
    (await source.query<{ id: number }[]>(sql, asks)).map((row) => row.id);
  const [there, here] = [await idsOf(keyset), await idsOf(offset)];
  if (there.length !== 51) throw new Error('The deep page is not whole');
  if (JSON.stringify(there) !== JSON.stringify(here)) throw new Error('The deep pages differ');
  return {
    filtered: () => page(filtered),
    unindexed: () => source.query(plain, asks),
    whole: () => page({ ...deep, after: mark }),
    keyset: () => idsOf(keyset),
    offset: () => idsOf(offset),
  };
}

/** S7: a filtered, ranked page with its index and without; a deep page by keyset and by OFFSET. */
export async function listFigures(source: DataSource): Promise<Figure[]> {
  const { manager } = source;
  const page = (by: LeadQuery) => listLeads(manager, ALL, by, NOW);
  const pairs = await pairsOf(source, 'lead', page);

  const when = JSON.stringify({
    test: 'all',
    of: [
      { test: 'one-of', subject: { kind: 'field', field: 'industry' }, values: ['Brewery', 'Vineyard'] },
      { test: 'range', subject: { kind: 'score', axis: 'fit' }, from: { at: '50', included: true }, to: null },
    ],
  });
  const ranked: LeadQuery = { set: 'extra', order: 'fit', least: 60 };
  let besideMark: string | null = null;
  for (let n = 0; n < 100; n += 1) besideMark = (await page({ ...ranked, after: besideMark ?? undefined })).next;
  const [filter, depth, asked, whole, beside]: number[][] = [[], [], [], [], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    const seen = await roundOf(pairs);
    filter?.push(seen.filter);
    depth?.push(seen.depth);
    whole?.push(await took(pairs.whole));
    asked?.push(await took(() => page({ when })));
    beside?.push(await took(() => page({ ...ranked, after: besideMark ?? undefined })));
  }
  console.log(
    `  a page of a list with a condition over fields: ${median(asked ?? []).toFixed(1)} ms; the deep page as leads: ${median(whole ?? []).toFixed(1)} ms; ranked by a set beside: ${median(beside ?? []).toFixed(1)} ms`,
  );
  return figuresOf('leads', filter ?? [], depth ?? []);
}

/** The same over deals. */
export async function dealFigures(source: DataSource): Promise<Figure[]> {
  const pairs = await pairsOf(source, 'deal', (by) => listRecords(source.manager, 'deal', ALL, by, NOW));
  const [filter, depth]: [number[], number[]] = [[], []];
  for (let round = 0; round < ROUNDS; round += 1) {
    const seen = await roundOf(pairs);
    filter.push(seen.filter);
    depth.push(seen.depth);
  }
  return figuresOf('deals', filter, depth);
}

async function roundOf(pairs: Awaited<ReturnType<typeof pairsOf>>): Promise<{ filter: number; depth: number }> {
  letGo();
  const without = await took(pairs.unindexed);
  const filter = without / (await took(pairs.filtered));
  let [skipped, begun] = [0, 0];
  for (let turn = 0; turn < TURNS; turn += 1) {
    skipped += await took(pairs.offset);
    begun += await took(pairs.keyset);
  }
  return { filter, depth: skipped / begun };
}

function figuresOf(what: string, filter: readonly number[], depth: readonly number[]): Figure[] {
  return [
    atLeast('S7', `a filtered, ranked page of 1,000,000 ${what}, against the query without its index`, 100, filter),
    atLeast('S7', `the page of ${what} at depth 5,000 by keyset, against its statement with OFFSET`, 15, depth),
  ];
}
