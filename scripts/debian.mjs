// Installs what is missing from Debian: only the packages whose programs are not here.
import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';

const PROGRAMS = {
  'mariadb-server': ['/usr/sbin/mariadbd', '/usr/bin/mariadb-install-db'],
  chromium: ['/usr/bin/chromium'],
  'fonts-liberation': ['/usr/share/fonts/truetype/liberation'],
};

function apt(args) {
  return spawnSync('apt-get', ['-o', 'DPkg::Lock::Timeout=600', ...args], {
    env: { ...process.env, DEBIAN_FRONTEND: 'noninteractive' },
    stdio: ['ignore', 'pipe', 'pipe'],
    encoding: 'utf8',
  });
}

/** Installs those of the packages that are missing; throws with what to do when that can't be done. */
export function ensurePackages(names) {
  const missing = names.filter((name) => !PROGRAMS[name].every(existsSync));
  if (missing.length === 0) return;
  const byHand = `Please run:  apt-get update && apt-get install -y --no-install-recommends ${missing.join(' ')}`;
  if (process.getuid() !== 0)
    throw new Error(`${missing.join(', ')} is not installed, and installing it needs root. ${byHand}`);
  console.log(`  installing ${missing.join(', ')} from Debian (about a minute) …`);
  for (let attempt = 1; apt(['update']).status !== 0 && attempt < 3; attempt += 1);
  const installed = apt(['install', '-y', '--no-install-recommends', ...missing]);
  if (installed.status !== 0)
    throw new Error(`Debian's packages could not be installed. ${byHand}\n${installed.stderr?.slice(-800) ?? ''}`);
}
