import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Access } from '../store/open-database';

/** Whoever has given it something to do says so. */
export interface Background {
  wake(): void;
}

/** What the thread is begun with. */
export interface BackgroundData {
  readonly access: Access;
}

/**
 * Works in a thread of its own, with connections of its own, so that leads come in as fast beside a rescore as without.
 *
 * A thread that dies loses at most a batch, which the database takes back; the next wake begins another.
 */
export class BackgroundThread implements Background {
  private thread: Worker | null = null;

  /** @param report hears what failed; it is tried again with the next wake */
  constructor(
    private readonly access: Access,
    private readonly report: (why: string) => void,
    private readonly file = join(__dirname, '../../dist/job/background-thread.js'),
  ) {}

  wake(): void {
    this.thread ??= this.begin();
    this.thread.postMessage('wake');
  }

  async stop(): Promise<void> {
    await this.thread?.terminate();
  }

  private begin(): Worker {
    const workerData: BackgroundData = { access: this.access };
    const thread = new Worker(this.file, { workerData });
    thread.on('message', (why: string) => {
      this.report(why);
    });
    thread.on('error', (error: Error) => {
      this.report(error.stack ?? error.message);
    });
    thread.on('exit', () => {
      this.thread = null;
    });
    return thread;
  }
}
