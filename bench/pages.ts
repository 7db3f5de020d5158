import 'reflect-metadata';
import type { Page } from '@playwright/test';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { cpus, release, tmpdir, totalmem } from 'node:os';
import { join } from 'node:path';
import type { DataSource } from 'typeorm';
import { loadDemoWorld } from '../packages/server/src/demo/demo-world';
import { openDatabase } from '../packages/server/src/store/open-database';
import { median } from './measure';
import { multiply } from './multiplied';
import { signedIn } from './opened-page';
import { pause, TrustServer } from './trust-server';

/** How long the requests of each page take with many records: `npm run bench:pages`. */

const PORT = 4482;
const WANTED = { leads: 1_000_000, companies: 100_000, deals: 50_000 };
const AGAIN = 5;
const GOAL = 1000;

interface Seen {
  readonly page: string;
  /** The slowest request of the page. */
  readonly slowest: string;
  /** ms until its last answer, the first time, and again. */
  readonly first: number;
  readonly again: readonly number[];
}

/** The last answer to a request of the page that is opened, ms after its first request, and the slowest request. */
async function opened(page: Page, path: string): Promise<{ took: number; slowest: string }> {
  const begun = new Map<unknown, number>();
  let [slowest, longest] = ['', 0];
  let left = 0;
  let quietSince = performance.now();
  const isAsked = (url: string): boolean => url.includes('/api/') && !url.endsWith('/api/session');
  const onRequest = (request: { url(): string }): void => {
    if (!isAsked(request.url())) return;
    begun.set(request, performance.now());
    left += 1;
  };
  const onEnd = (request: { url(): string; method(): string }): void => {
    const from = begun.get(request);
    if (from === undefined) return;
    left -= 1;
    quietSince = performance.now();
    const took = quietSince - from;
    if (took <= longest) return;
    longest = took;
    slowest = `${request.method()} ${new URL(request.url()).pathname.replace(/\d+/, 'N')}`;
  };
  page.on('request', onRequest).on('requestfinished', onEnd).on('requestfailed', onEnd);
  await page.goto(`http://127.0.0.1:${PORT}${path}`, { waitUntil: 'networkidle', timeout: 120_000 });
  quietSince = performance.now();
  while (left > 0 || performance.now() - quietSince < 700) await pause(20);
  page.off('request', onRequest).off('requestfinished', onEnd).off('requestfailed', onEnd);
  return { took: longest, slowest };
}

async function idOf(source: DataSource, kind: string): Promise<number> {
  const [row] = await source.query<[{ id: number }]>(`SELECT MAX(id) AS id FROM \`${kind}\` WHERE id < 100000`);
  return row.id;
}

async function pathsOf(source: DataSource): Promise<string[]> {
  const lists = ['/leads', '/contacts', '/companies', '/deals'];
  const kinds = ['lead', 'contact', 'company', 'deal'];
  const records = await Promise.all(kinds.map(async (kind, i) => `${lists[i] ?? ''}/${await idOf(source, kind)}`));
  return [
    '/',
    ...lists,
    ...records,
    '/find?text=brew',
    ...['/suggestions', '/people', '/intake', '/background', '/fields', '/unjudged'],
    ...['/score', '/grade', '/gates', '/territories', '/routes', '/tracer', '/charters', '/enact'],
  ];
}

async function measure(source: DataSource): Promise<Seen[]> {
  const { browser, page } = await signedIn(PORT);
  const seen: Seen[] = [];
  for (const path of await pathsOf(source)) {
    const first = await opened(page, path);
    const again: number[] = [];
    for (let n = 0; n < AGAIN; n += 1) again.push((await opened(page, path)).took);
    const name = path.replace(/\d+/, 'N');
    seen.push({ page: name, slowest: first.slowest, first: first.took, again });
    console.log(
      `  ${name.padEnd(18)} ${first.took.toFixed(0).padStart(6)} ms first, ${median(again).toFixed(0).padStart(6)} ms again   ${first.slowest}`,
    );
  }
  await browser.close();
  return seen;
}

async function main(): Promise<void> {
  const { startMariadb, emptyDatabase } = await import('../scripts/mariadb.mjs');
  const folder = mkdtempSync(join(tmpdir(), 'relvik-bench-pages-'));
  const database = await startMariadb({ folder });
  try {
    emptyDatabase(database.socket, 'pages');
    const access = { socketPath: database.socket, user: 'root', password: '', database: 'pages' };
    const source = await openDatabase(access, 600_000);
    await loadDemoWorld(source, new Date(), (text) => console.log(`  ${text}`));
    const began = performance.now();
    await multiply(source, WANTED);
    console.log(`  multiplied in ${((performance.now() - began) / 1000).toFixed(0)} s`);
    const file = join(folder, 'access.json');
    writeFileSync(file, JSON.stringify(access));
    process.env['RELVIK_WEB'] = join(__dirname, '../packages/web/dist/browser');
    const server = new TrustServer(file, PORT);
    await server.start();
    // The population is read at the start; nobody opens a page meanwhile.
    await pause(Number(process.env['BENCH_WAIT'] ?? 120_000));
    const seen = await measure(source);
    await server.end('SIGTERM');
    await source.destroy();
    writeFileSync(join(__dirname, '../docs/speed-pages.md'), report(seen));
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

function report(seen: readonly Seen[]): string {
  const machine = `${cpus()[0]?.model.trim() ?? 'unknown'}, ${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GB, Linux ${release()}, Node ${process.version}`;
  const ms = (n: number): string => Math.round(n).toLocaleString('en');
  const row = ({ page, slowest, first, again }: Seen): string =>
    `| \`${page}\` | ${ms(first)} | ${ms(median(again))} | \`${slowest}\` | ${first <= GOAL ? 'reached' : '**not reached**'} |`;
  return `# Speed of pages with many records

Written by \`npm run bench:pages\` on ${new Date().toISOString().slice(0, 10)}: ${machine}; shared and noisy. ${WANTED.leads.toLocaleString('en')} leads, ${WANTED.companies.toLocaleString('en')} companies and ${WANTED.deals.toLocaleString('en')} deals at
least, the demo's multiplied, stored in a MariaDB as \`npm start\` runs it. Each page is opened in Chromium by the admin; counted is the longest
wait for an answer of its requests, the first time it is opened after the start of the server and the median of ${AGAIN} times more. Goal: ≤ 1 s the first time.

| page | first, ms | again, ms | slowest request | |
|---|---|---|---|---|
${seen.map(row).join('\n')}
`;
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
