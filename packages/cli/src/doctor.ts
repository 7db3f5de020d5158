import { spawnSync } from 'node:child_process';
import { existsSync } from 'node:fs';
import { join } from 'node:path';

/** Lets the server's doctor look at its database: a program of its own, since this package knows no database. */
export function doctor(access: string, lookOnly: boolean): number {
  const program = join(__dirname, '../../server/dist/doctor-command.js');
  if (!existsSync(program)) {
    process.stderr.write('The server is not built yet: npm start builds it.\n');
    return 2;
  }
  const done = spawnSync(process.execPath, [program, ...(lookOnly ? ['--look'] : [])], {
    stdio: ['ignore', 'inherit', 'inherit'],
    env: { ...process.env, RELVIK_ACCESS: access },
  });
  return done.status ?? 2;
}
