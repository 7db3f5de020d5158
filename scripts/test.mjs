// `npm test`: sets everything up, then lint, types, unit tests and the browser walk; ends with the counts of all runners.
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import { ensureBuilt, ensureInstalled, ROOT } from './build.mjs';
import { ensurePackages } from './debian.mjs';

const COUNTS = join(ROOT, '.relvik/counts');
const bin = (name) => join(ROOT, 'node_modules/.bin', name);
let failures = 0;
let lintFailed = false;

function step(what, command, args) {
  console.log(`\n— ${what}`);
  const done = spawnSync(command, args, {
    cwd: ROOT,
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
  });
  if (done.status === 0) return true;
  console.log(`${what} failed`);
  failures += 1;
  return false;
}

/** Runs a command while others run; its output is shown at its end. */
function beside(command, args) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'pipe'] });
    let output = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (text) => (output += String(text)));
    child.on('close', (status) => resolve({ status, output }));
  });
}

/** A step that shares the machine with lint, whose findings are shown after it. */
async function stepBeside(what, command, args, linting) {
  console.log(`\n— ${what}, lint beside it`);
  const child = spawn(command, args, { cwd: ROOT, stdio: ['ignore', 'inherit', 'inherit'] });
  const status = await new Promise((resolve) => child.once('close', resolve));
  if (status !== 0) {
    console.log(`${what} failed`);
    failures += 1;
  }
  const lint = await linting;
  console.log(`\n— lint\n${lint.output.trim()}`);
  lintFailed = lint.status !== 0;
}

function countsOf(runner) {
  const file = join(COUNTS, `${runner}.json`);
  return existsSync(file) ? JSON.parse(readFileSync(file, 'utf8')) : null;
}

rmSync(COUNTS, { recursive: true, force: true });
console.log('— set-up');
ensurePackages(['mariadb-server', 'chromium', 'fonts-liberation']);
ensureInstalled();

// Compiled first: the lint rules read the declarations, some tests run what is compiled.
step('compile', 'npm', ['run', '--silent', 'compile']);
// Types and the build of the web application keep one core busy each: side by side.
const typing = beside('npm', ['run', '--silent', 'typecheck:rest']);
console.log('\n— build, types beside it');
ensureBuilt();
const types = await typing;
console.log(types.output.trim());
if (types.status !== 0) {
  console.log('types failed');
  failures += 1;
}
step('folders', process.execPath, [join(ROOT, 'scripts/folders.mjs')]);
let passed = 0;
for (const [runner, command, args] of [
  ['jest', bin('jest'), []],
  ['playwright', bin('playwright'), ['test', '-c', 'e2e/playwright.config.ts']],
]) {
  // The browser waits more than it computes: lint has the rest of the machine meanwhile.
  const linting =
    runner === 'playwright' ? beside('nice', ['-n', '10', bin('eslint'), 'packages', 'e2e', 'bench']) : null;
  const before = failures;
  if (linting === null) step(runner, command, args);
  else await stepBeside(runner, command, args, linting);
  const counts = countsOf(runner);
  passed += counts?.passed ?? 0;
  // A runner that failed without a failed test (it could not start, say) counts as one failure, once.
  if (counts !== null && counts.failed > 0) failures = before + counts.failed;
  else if (counts === null || counts.passed === 0) failures = before + 1;
}

if (lintFailed) {
  console.log('lint failed');
  failures += 1;
}
console.log(`\n${passed} passed, ${failures} failed`);
process.exit(failures === 0 ? 0 : 1);
