// `npm run explore [rounds]`: the properties with random seeds, round after round, until one fails.
import { spawnSync } from 'node:child_process';
import { randomInt } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { ensureInstalled, ROOT } from './build.mjs';

ensureInstalled();
const rounds = Number(process.argv[2] ?? 10);
const files = readdirSync(join(ROOT, 'packages'), { recursive: true })
  .filter((path) => path.endsWith('.spec.ts') && !path.includes('node_modules') && !path.includes('/dist/'))
  .map((path) => join(ROOT, 'packages', path))
  .filter((path) => readFileSync(path, 'utf8').includes('fc.assert'));
console.log(`${files.length} files with properties, ${rounds} rounds`);
for (let round = 1; round <= rounds; round += 1) {
  const seed = randomInt(2 ** 31);
  const began = Date.now();
  const done = spawnSync(join(ROOT, 'node_modules/.bin/jest'), files, {
    cwd: ROOT,
    encoding: 'utf8',
    maxBuffer: 256 * 1024 * 1024,
    env: { ...process.env, RELVIK_SEED: String(seed) },
  });
  console.log(
    `round ${round}: seed ${seed}, ${done.status === 0 ? 'all hold' : 'FAILED'}, ${Math.round((Date.now() - began) / 1000)} s`,
  );
  if (done.status === 0) continue;
  console.log(`${done.stdout}${done.stderr}`.slice(-20_000));
  console.log(`Again with RELVIK_SEED=${seed}`);
  process.exit(1);
}
