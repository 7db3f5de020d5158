import type { Accepted } from '@relvik/contracts';
import { join } from 'node:path';
import type { Inquiry } from '../act/accept-leads';
import type { Access } from '../store/open-database';
import { AskedThread, lostInThread } from '../thread/asked-thread';
import type { RequestMark } from '../act/request-mark';
import type { LeadWriter } from './intake-writer';

/** What the thread is begun with. */
export interface IntakeThreadData {
  readonly access: Access;
  readonly patience: number;
}

export interface ToIntake {
  readonly inquiry: Inquiry;
  readonly mark: RequestMark | null;
}

/**
 * The writer of a server in a thread of its own, so that requests are read while leads are decided and written.
 *
 * If the thread dies nobody knows what it had stored: whoever waits is told so.
 */
export class IntakeThread implements LeadWriter {
  private readonly thread: AskedThread<ToIntake, Accepted>;

  constructor(access: Access, patience: number, file = join(__dirname, '../../dist/intake/intake-worker.js')) {
    const data: IntakeThreadData = { access, patience };
    this.thread = new AskedThread(file, data, () => lostInThread('The thread that takes leads in ended'));
  }

  accept(inquiry: Inquiry, mark: RequestMark | null = null): Promise<Accepted> {
    return this.thread.ask({ inquiry, mark });
  }

  async settled(): Promise<void> {
    while (this.thread.asked > 0) await new Promise((resume) => setTimeout(resume, 5));
  }

  stop(): Promise<void> {
    return this.thread.stop();
  }
}
