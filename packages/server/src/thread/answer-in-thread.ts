import { parentPort } from 'node:worker_threads';
import { Refused } from '../problem/refused';
import { isDatabaseAway } from '../store/transaction';
import type { FromThread, Outcome, ToThread } from './messages';

async function outcomeOf<Answer>(asked: Promise<Answer>): Promise<Outcome<Answer>> {
  try {
    return { ok: true, answer: await asked };
  } catch (error) {
    const why = error instanceof Error ? (error.stack ?? error.message) : String(error);
    return { ok: false, problem: error instanceof Refused ? error.problem : null, why, away: isDatabaseAway(error) };
  }
}

/**
 * Answers questions in a thread; answers that are ready in one turn of the event loop go back together.
 *
 * @param opening what the thread needs, such as a connection; if it can't be had the thread ends, and the next question begins another
 */
export function answerInThread<Opened, Answer>(
  opening: Promise<Opened>,
  answer: (opened: Opened, question: unknown) => Promise<Answer>,
): void {
  opening.catch(() => process.exit(1));
  let ready: FromThread<Answer>[number][] = [];
  parentPort?.on('message', (questions: ToThread<unknown>) => {
    for (const { id, question } of questions)
      void outcomeOf(opening.then((opened) => answer(opened, question))).then((outcome) => {
        ready.push({ id, outcome });
        if (ready.length === 1)
          setImmediate(() => {
            parentPort?.postMessage(ready);
            ready = [];
          });
      });
  });
}
