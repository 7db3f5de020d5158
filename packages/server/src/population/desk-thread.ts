import 'reflect-metadata';
import { parentPort, workerData } from 'node:worker_threads';
import { Refused } from '../problem/refused';
import { describeDatabase, LONG_PATIENCE } from '../store/open-database';
import type { DeskThreadData, FromDeskThread, ToDeskThread } from './desk-messages';
import { CompanySubject } from './company-population';
import { LeadSubject, NearDesk } from './population-desk';

/** A thread of the server in which the population stands, with a connection of its own. */
async function stand(): Promise<void> {
  const { access, of } = workerData as DeskThreadData;
  const source = await describeDatabase(access, LONG_PATIENCE).initialize();
  const subject = of === 'company' ? new CompanySubject(source) : new LeadSubject(source);
  const desk = new NearDesk(source, () => new Date(), subject);
  const answer = async (message: ToDeskThread): Promise<FromDeskThread> => {
    const { id } = message;
    try {
      return { id, ok: true, answer: await (message.kind === 'load' ? desk.load() : desk.ask(message.question)) };
    } catch (error) {
      const why = error instanceof Error ? error.message : String(error);
      return { id, ok: false, problem: error instanceof Refused ? error.problem : null, why };
    }
  };
  parentPort?.on('message', (message: ToDeskThread) => {
    void answer(message).then((said) => parentPort?.postMessage(said));
  });
}

stand().catch((error: unknown) => {
  throw error;
});
