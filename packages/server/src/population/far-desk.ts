import type { DeskAnswer, DeskQuestion, PopulationState } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import { join } from 'node:path';
import { Refused } from '../problem/refused';
import type { Access } from '../store/open-database';
import { AskedThread } from '../thread/asked-thread';
import type { DeskThreadData, ToDesk } from './desk-messages';
import type { PopulationDesk } from './population-desk';

/** A desk in a thread of its own, begun with the first question, so that intake goes on while it computes. */
export class FarDesk implements PopulationDesk {
  private readonly thread: AskedThread<ToDesk, PopulationState | DeskAnswer | Uint8Array>;

  constructor(access: Access, of: RecordKind = 'lead', file = join(__dirname, 'desk-thread.js')) {
    const data: DeskThreadData = { access, of };
    this.thread = new AskedThread(file, data, () => Refused.as('computation-stopped'));
  }

  load(): Promise<PopulationState> {
    return this.thread.ask({ kind: 'load' }) as Promise<PopulationState>;
  }

  ask(question: DeskQuestion): Promise<DeskAnswer> {
    return this.thread.ask({ kind: 'ask', question }) as Promise<DeskAnswer>;
  }

  asArrow(): Promise<Uint8Array> {
    return this.thread.ask({ kind: 'as-arrow' }) as Promise<Uint8Array>;
  }

  stop(): Promise<void> {
    return this.thread.stop();
  }
}
