import 'reflect-metadata';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { ostervane } from '@relvik/demo';
import { storeWorld } from '/work/main/packages/server/src/demo/demo-world';
import { IntakeWriter } from '/work/main/packages/server/src/intake/intake-writer';
import { openDatabase } from '/work/main/packages/server/src/store/open-database';
import { leadOf } from '/work/main/bench/intake-setting';
async function main() {
  const { startMariadb, emptyDatabase } = await import('/work/main/scripts/mariadb.mjs' as string);
  const folder = '/tmp/profdb';
  const database = await startMariadb({ folder });
  emptyDatabase(database.socket, 'intake');
  const source = await openDatabase({
    socketPath: database.socket,
    user: 'root',
    password: '',
    database: 'intake',
  } as any);
  await storeWorld(source, ostervane('ostervane', Date.now()), new Date());
  await source.query('UPDATE person SET takes = NULL');
  for (const q of (process.env['QS'] ?? '').split(';').filter(Boolean)) await source.query(q);
  const writer = new IntakeWriter(source);
  let next = 0;
  const count = Number(process.argv[2] ?? 5000);
  const client = async () => {
    while (next < count) {
      next += 1;
      await writer.accept({
        cause: { kind: 'api', name: 'b' },
        at: new Date(),
        values: leadOf(next, process.argv[3] ?? 'p'),
        owner: null,
      });
    }
  };
  const began = performance.now();
  const cpu0 = process.cpuUsage();
  const { execSync } = await import('node:child_process');
  const pid = execSync("pgrep -f 'datadir=/tmp/profdb' | head -1").toString().trim();
  const { readFileSync } = await import('node:fs');
  const db = () => {
    const f = readFileSync('/proc/' + pid + '/stat', 'utf8')
      .split(') ')[1]!
      .split(' ');
    return (Number(f[11]) + Number(f[12])) * 10000;
  };
  const db0 = db();
  await Promise.all(Array.from({ length: 64 }, client));
  const t = performance.now() - began;
  const cpu = process.cpuUsage(cpu0);
  console.log(
    Math.round((count * 1000) / t),
    'leads/s; cpu per lead',
    Math.round((cpu.user + cpu.system) / count),
    'us; db',
    Math.round((db() - db0) / count),
    'us; wall',
    Math.round((t * 1000) / count),
  );
  await source.destroy();
  await database.stop();
}
main();
