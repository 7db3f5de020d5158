import type { DataSource } from 'typeorm';

/** Ids of one copy of the demo; the next copy's are as many further. */
const STEP = 100_000;
/** Fields of leads that copies have: those that lists, counts and conditions read. */
const FIELDS = ['source', 'country', 'industry', 'employees', 'deal_value', 'title', 'company', 'name', 'email'];

export interface Wanted {
  readonly leads: number;
  readonly companies: number;
  readonly deals: number;
}

async function columnsOf(source: DataSource, table: string, but: readonly string[]): Promise<string[]> {
  const rows = await source.query<{ Field: string }[]>(`SHOW COLUMNS FROM \`${table}\``);
  return rows.map(({ Field }) => Field).filter((name) => !but.includes(name));
}

/**
 * Multiplies the records of the demo until there are so many: each copy as the demo's, under ids and addresses of its own. Leads
 * of later copies come under the companies and contacts of earlier ones. Copies have no decisions, and no history but their stages.
 */
export async function multiply(source: DataSource, wanted: Wanted): Promise<void> {
  const countOf = async (table: string): Promise<number> => {
    const [row] = await source.query<[{ n: string }]>(`SELECT COUNT(*) AS n FROM \`${table}\``);
    return Number(row.n);
  };
  const copiesOf = async (table: string, most: number): Promise<number> => Math.ceil(most / (await countOf(table))) - 1;
  const copies = { lead: await copiesOf('lead', wanted.leads), deal: await copiesOf('deal', wanted.deals) };
  const parties = await copiesOf('company', wanted.companies);
  const copy = async (
    table: string,
    changed: Readonly<Record<string, string>>,
    where: string,
    but: readonly string[] = [],
  ): Promise<void> => {
    const columns = await columnsOf(source, table, but);
    const asked = columns.map((name) => changed[name] ?? `\`${name}\``);
    await source.query(
      `INSERT INTO \`${table}\` (${columns.map((name) => `\`${name}\``).join(', ')}) SELECT ${asked.join(', ')} FROM \`${table}\` WHERE ${where}`,
    );
  };
  await source.query('SET GLOBAL innodb_flush_log_at_trx_commit = 0');
  const most = Math.max(copies.lead, copies.deal, parties);
  for (let k = 1; k <= most; k += 1) {
    const by = k * STEP;
    const under = (1 + ((k - 1) % Math.max(1, parties))) * STEP;
    const ofKind = (kinds: readonly string[], column: string): string =>
      `${column} IN (SELECT id FROM record WHERE id < ${STEP} AND kind IN (${kinds.map((kind) => `'${kind}'`).join(', ')}))`;
    const kinds = [
      ...(k <= copies.lead ? ['lead'] : []),
      ...(k <= copies.deal ? ['deal'] : []),
      ...(k <= parties ? ['contact', 'company'] : []),
    ];
    const ownId = { id: `id + ${by}` };
    const ties = { contact: `contact + ${under}`, company_id: `company_id + ${under}` };
    await copy('record', ownId, `id < ${STEP} AND kind IN (${kinds.map((kind) => `'${kind}'`).join(', ')})`);
    if (k <= copies.lead)
      await copy(
        'lead',
        // Later copies share contacts, of whom each has one open lead in a pipeline.
        { ...ownId, ...ties, email: `CONCAT('${k}-', email)`, open_for: k <= parties ? `open_for + ${by}` : 'NULL' },
        `id < ${STEP}`,
      );
    if (k <= parties) {
      await copy('contact', { ...ownId, email: `CONCAT('${k}-', email)`, company: `company + ${by}` }, `id < ${STEP}`);
      await copy('company', { ...ownId, identity: `CONCAT('${k}-', identity)` }, `id < ${STEP}`);
      await copy('company_key', { company: `company + ${by}` }, `company < ${STEP}`);
    }
    if (k <= copies.deal)
      await copy(
        'deal',
        { ...ownId, contact: `contact + ${under}`, company: `company + ${under}`, lead: `lead + ${by}` },
        `id < ${STEP}`,
      );
    const record = { record: `record + ${by}` };
    const own = `record < ${STEP} AND ${ofKind(kinds, 'record')}`;
    await copy(
      'field_value',
      record,
      `${own} AND (field IN (${FIELDS.map((key) => `'${key}'`).join(', ')}) OR field LIKE '%.%')`,
    );
    await copy('side_score', record, own);
    await copy('record_change', record, `${own} AND field = 'stage'`, ['id']);
    if (k % 50 === 0) console.log(`  ${k} of ${most} copies`);
  }
  await source.query('SET GLOBAL innodb_flush_log_at_trx_commit = 1');
  await source.query('ANALYZE TABLE `lead`, field_value, side_score, contact, company, deal, record_change');
}
