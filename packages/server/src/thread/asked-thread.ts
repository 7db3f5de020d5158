import { Worker } from 'node:worker_threads';
import { Refused } from '../problem/refused';
import type { FromThread, Outcome, ToThread } from './messages';

interface Waiting<Answer> {
  resolve(answer: Answer): void;
  reject(error: Error): void;
}

/** Size of the young generation, MB: most objects die young, and a larger one means fewer scavenges. */
const YOUNG = { maxYoungGenerationSizeMb: 96 };

/**
 * A thread that is asked questions, begun with the first one. Questions of one turn of the event loop go over together.
 *
 * A thread that dies lets whoever waits know, once; the next question begins another.
 */
export class AskedThread<Question, Answer> {
  private thread: Worker | null = null;
  private readonly waiting = new Map<number, Waiting<Answer>>();
  private outgoing: { id: number; question: Question }[] = [];
  private next = 1;

  /**
   * @param died what those are told who wait when the thread dies
   */
  constructor(
    private readonly file: string,
    private readonly workerData: unknown,
    private readonly died: () => Error,
  ) {}

  ask(question: Question): Promise<Answer> {
    const id = this.next;
    this.next += 1;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      this.outgoing.push({ id, question });
      if (this.outgoing.length === 1)
        setImmediate(() => {
          this.send();
        });
    });
  }

  /** How many wait for an answer. */
  get asked(): number {
    return this.waiting.size;
  }

  async stop(): Promise<void> {
    await this.thread?.terminate();
  }

  private send(): void {
    this.thread ??= this.begin();
    const message: ToThread<Question> = this.outgoing;
    this.outgoing = [];
    this.thread.postMessage(message);
  }

  private begin(): Worker {
    const thread = new Worker(this.file, { workerData: this.workerData, resourceLimits: YOUNG });
    thread.on('message', (answers: FromThread<Answer>) => {
      for (const { id, outcome } of answers) {
        const one = this.waiting.get(id);
        this.waiting.delete(id);
        if (one !== undefined) settle(one, outcome);
      }
    });
    // An error ends the thread as well.
    thread.on('error', () => undefined);
    thread.on('exit', () => {
      this.thread = null;
      const left = [...this.waiting.values()];
      this.waiting.clear();
      this.outgoing = [];
      for (const { reject } of left) reject(this.died());
    });
    return thread;
  }
}

/** The connection to the database was lost in a thread: what it was asked may have been stored or not. */
export function lostInThread(why: string): Error {
  return Object.assign(new Error(why), { code: 'PROTOCOL_CONNECTION_LOST' });
}

function settle<Answer>({ resolve, reject }: Waiting<Answer>, outcome: Outcome<Answer>): void {
  if (outcome.ok) resolve(outcome.answer);
  else if (outcome.problem !== null) reject(new Refused(outcome.problem));
  else reject(outcome.away ? lostInThread(outcome.why) : new Error(outcome.why));
}
