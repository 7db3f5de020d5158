import 'reflect-metadata';
import { ostervane } from '@relvik/demo';
import { storeWorld } from '../packages/server/src/demo/demo-world';
import { IntakeWriter } from '../packages/server/src/intake/intake-writer';
import { openDatabase } from '../packages/server/src/store/open-database';
import { DecisionEntity } from '../packages/server/src/store/entity/history.entity';
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
  const writer = new IntakeWriter(source);
  await writer.accept({ cause: { kind: 'api', name: 'b' }, at: new Date(), values: leadOf(3, 'p'), owner: null });
  const [d] = await source.manager.find(DecisionEntity);
  for (const [k, v] of Object.entries(d!.body)) console.log(k, JSON.stringify(v).length);
  for (const [k, v] of Object.entries(d!.body.score)) console.log('  score', k, JSON.stringify(v).length);
  console.log(
    JSON.stringify(d!.body.score.signals.slice(0, 4)),
    JSON.stringify(d!.body.gates).slice(0, 600),
    JSON.stringify(d!.body.routing).slice(0, 1500),
  );
  await source.destroy();
  await database.stop();
}
main();
