import 'reflect-metadata';
import { parentPort, workerData } from 'node:worker_threads';
import { describeDatabase, LONG_PATIENCE } from '../store/open-database';
import type { BackgroundData } from './background-worker';
import { Runner } from './runner';
import { WORKS } from './works';

/** How often it looks for what is due, ms: a notice is told about as soon as it is caused. */
const LOOK = 300;

/** A thread of the server that carries on what nobody waits for, often and whenever it is woken. */
async function main(): Promise<void> {
  const { access } = workerData as BackgroundData;
  const source = await describeDatabase(access, LONG_PATIENCE).initialize();
  const runner = new Runner(
    source,
    WORKS,
    () => new Date(),
    (why) => parentPort?.postMessage(why),
  );
  const tick = (): void => void runner.tick();
  parentPort?.on('message', () => {
    runner.wake();
    tick();
  });
  setInterval(tick, LOOK);
}

main().catch((error: unknown) => {
  throw error;
});
