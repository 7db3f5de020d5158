import 'reflect-metadata';
import { parentPort, workerData } from 'node:worker_threads';
import { describeDatabase } from '../store/open-database';
import { tend } from './background';
import type { BackgroundData } from './background-worker';

/** A thread of the server that tends whenever it is woken; woken while it does, it tends once more. */
async function stand(): Promise<void> {
  const { access } = workerData as BackgroundData;
  const source = await describeDatabase(access).initialize();
  let busy = false;
  let again = false;
  const run = async (): Promise<void> => {
    if (busy) {
      again = true;
      return;
    }
    busy = true;
    do {
      again = false;
      await tend(source, () => new Date()).catch((error: unknown) => {
        parentPort?.postMessage(error instanceof Error ? (error.stack ?? error.message) : String(error));
      });
    } while (wasWoken());
    busy = false;
  };
  const wasWoken = (): boolean => again;
  parentPort?.on('message', () => void run());
}

stand().catch((error: unknown) => {
  throw error;
});
