import 'reflect-metadata';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { sendAllHostile } from '../packages/server/src/fixture/hostile.fixture';
import { SmallServer } from '../packages/server/src/fixture/small-server.fixture';

/** `npm run bench:hostile [seed]`: 50,000 requests that nobody means, to every endpoint, as everyone; the outcome goes into docs/trust.md. */

const REQUESTS = 50_000;
const HEADING = '## Hostile requests';

async function main(): Promise<void> {
  const { startMariadb } = await import('../scripts/mariadb.mjs');
  const folder = mkdtempSync(join(tmpdir(), 'relvik-bench-hostile-'));
  const database = await startMariadb({ folder, fast: true });
  process.env['RELVIK_TEST_SOCKET'] = database.socket;
  const seed = Number(process.argv[2] ?? Date.now() % 1_000_000);
  console.log(`seed ${seed}`);
  try {
    const server = await SmallServer.start();
    const began = performance.now();
    const { endpoints } = server.service;
    const { sent, failures } = await sendAllHostile(server, Math.ceil(REQUESTS / endpoints.length), seed);
    await server.stop();
    const hung = failures.filter(({ seen }) => typeof seen === 'string').length;
    for (const failure of failures.slice(0, 20)) console.log(JSON.stringify(failure));
    const told = `${sent.toLocaleString('en')} requests to ${endpoints.length} endpoints as five kinds of callers: ${failures.length - hung} answered with 500 or above, ${hung} not answered within 20 s`;
    console.log(`${told}; ${((performance.now() - began) / 1000).toFixed(0)} s`);
    const page = join(__dirname, '../docs/trust.md');
    const [before] = readFileSync(page, 'utf8').split(`\n${HEADING}`);
    writeFileSync(
      page,
      `${(before ?? '').trimEnd()}\n\n${HEADING}\n\nWritten by \`npm run bench:hostile ${seed}\` on ${new Date().toISOString().slice(0, 10)}. Shapes come from the endpoints' schemas, with something wrong in most: names that every\nobject has, other types, nesting, broken encodings, cookies, addresses and packing.\n\n${told}.\n`,
    );
    process.exitCode = failures.length === 0 ? 0 : 1;
  } finally {
    await database.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

main().catch((error: unknown) => {
  console.error(error);
  process.exit(1);
});
