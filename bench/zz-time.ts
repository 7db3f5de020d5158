import 'reflect-metadata';
import { ostervane } from '@relvik/demo';
import { storeWorld } from '../packages/server/src/demo/demo-world';
import { IntakeWriter } from '../packages/server/src/intake/intake-writer';
import { openDatabase } from '../packages/server/src/store/open-database';
import { leadOf } from './intake-setting';
async function main() {
  const { startMariadb, emptyDatabase } = await import('../scripts/mariadb.mjs');
  const database = await startMariadb({ folder: '/tmp/profdb' });
  emptyDatabase(database.socket, 'intake');
  const source = await openDatabase({
    socketPath: database.socket,
    user: 'root',
    password: '',
    database: 'intake',
  } as any);
  await storeWorld(source, ostervane('ostervane', Date.now()), new Date());
  await source.query('UPDATE person SET takes = NULL');
  const writer = new IntakeWriter(source);
  let next = 0;
  const count = Number(process.argv[2] ?? 3000);
  const times = new Map<string, [number, number]>();
  const qr = (await import('typeorm/driver/mysql/MysqlQueryRunner' as string)).MysqlQueryRunner;
  const orig = qr.prototype.query;
  qr.prototype.query = async function (sql: string, ...rest: unknown[]) {
    const b = performance.now();
    try {
      return await orig.call(this, sql, ...rest);
    } finally {
      const k = sql.replace(/\s+/g, ' ').slice(0, 70);
      const t = times.get(k) ?? [0, 0];
      t[0] += performance.now() - b;
      t[1] += 1;
      times.set(k, t);
    }
  };
  const client = async () => {
    while (next < count) {
      next += 1;
      await writer.accept({
        cause: { kind: 'api', name: 'b' },
        at: new Date(),
        values: leadOf(next, 'p'),
        owner: null,
      });
    }
  };
  const began = performance.now();
  await Promise.all(Array.from({ length: 64 }, client));
  const t = performance.now() - began;
  console.log(Math.round((count * 1000) / t), 'leads/s');
  for (const [k, [ms, n]] of [...times].sort((a, b) => b[1][0] - a[1][0]).slice(0, 30))
    console.log(((ms * 1000) / count).toFixed(0).padStart(6), 'us/lead', String(n).padStart(5), k);
  await source.destroy();
  await database.stop();
}
main();
