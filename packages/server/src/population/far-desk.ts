import type { DeskAnswer, DeskQuestion, PopulationState } from '@relvik/contracts';
import type { ScoredKind } from '@relvik/core';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { Refused } from '../problem/refused';
import type { Access } from '../store/open-database';
import type { DeskThreadData, FromDeskThread, ToDeskThread } from './desk-messages';
import type { PopulationDesk } from './population-desk';

type Unnumbered = ToDeskThread extends infer M ? (M extends { id: number } ? Omit<M, 'id'> : never) : never;

interface Waiting {
  readonly resolve: (answer: PopulationState | DeskAnswer) => void;
  readonly reject: (error: Error) => void;
}

/** A desk in a thread of its own, begun with the first question, so that intake goes on while it computes. */
export class FarDesk implements PopulationDesk {
  private thread: Worker | null = null;
  private waiting = new Map<number, Waiting>();
  private next = 1;

  constructor(
    private readonly access: Access,
    private readonly of: ScoredKind = 'lead',
    private readonly file = join(__dirname, 'desk-thread.js'),
  ) {}

  load(): Promise<PopulationState> {
    return this.send({ kind: 'load' }) as Promise<PopulationState>;
  }

  ask(question: DeskQuestion): Promise<DeskAnswer> {
    return this.send({ kind: 'ask', question }) as Promise<DeskAnswer>;
  }

  async stop(): Promise<void> {
    await this.thread?.terminate();
  }

  private send(message: Unnumbered): Promise<PopulationState | DeskAnswer> {
    const thread = (this.thread ??= this.begin());
    const id = this.next;
    this.next += 1;
    return new Promise((resolve, reject) => {
      this.waiting.set(id, { resolve, reject });
      thread.postMessage({ ...message, id });
    });
  }

  private begin(): Worker {
    const thread = new Worker(this.file, { workerData: { access: this.access, of: this.of } satisfies DeskThreadData });
    thread.on('message', (said: FromDeskThread) => {
      const one = this.waiting.get(said.id);
      this.waiting.delete(said.id);
      if (said.ok) one?.resolve(said.answer);
      else one?.reject(said.problem === null ? new Error(said.why) : new Refused(said.problem));
    });
    // An error ends the thread as well; whoever waits is told once, and the next question begins another one.
    thread.on('error', () => undefined);
    thread.on('exit', () => {
      this.thread = null;
      const left = [...this.waiting.values()];
      this.waiting = new Map();
      for (const { reject } of left) reject(Refused.as('computation-stopped'));
    });
    return thread;
  }
}
