import type { Accepted } from '@relvik/contracts';
import { randomUUID } from 'node:crypto';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { act } from '../act/acting';
import type { Acting } from '../act/perform';
import { isDatabaseAway } from '../store/transaction';
import { insertRows } from '../store/rows';
import { acceptLeads, type Inquiry } from '../act/accept-leads';
import { AnsweredRequestEntity } from '../store/entity/intake.entity';

/** Marks a request, so that its repetition finds the first one's answer. */
export interface RequestMark {
  readonly sender: string;
  readonly request: string;
  /** SHA-256 of the body. */
  readonly body: string;
}

interface Waiting {
  readonly inquiry: Inquiry;
  readonly mark: RequestMark;
  /** Whether the sender may have sent it before. */
  readonly repeatable: boolean;
  readonly resolve: (accepted: Accepted) => void;
  readonly reject: (error: unknown) => void;
}

const BATCH = 500;

/** Pauses before a batch is tried again while the database is away, ms: what waits is answered within some seconds. */
const PAUSES = [100, 400, 1500];

/** A mark for a request that came without one: with it a retry finds out whether the first try was stored. */
function newMark(): RequestMark {
  return { sender: 'once', request: randomUUID(), body: '0'.repeat(64) };
}

/**
 * The one writer of a server: what waits is taken in together, up to 500 leads a transaction, and answered after the commit.
 *
 * A batch that fails is retried lead by lead, so that one that can't be taken in fails alone. Where the connection was lost,
 * nobody knows whether the batch was stored: the retry asks for the marks first.
 */
export class IntakeWriter {
  private readonly queue: Waiting[] = [];
  private running: Promise<void> | null = null;

  constructor(private readonly source: DataSource) {}

  /** Resolves when the lead is on disk. */
  accept(inquiry: Inquiry, mark: RequestMark | null = null): Promise<Accepted> {
    return new Promise((resolve, reject) => {
      this.queue.push({ inquiry, mark: mark ?? newMark(), repeatable: mark !== null, resolve, reject });
      this.running ??= this.drain().finally(() => (this.running = null));
    });
  }

  /** Resolves when nothing is being written any more. */
  async settled(): Promise<void> {
    await this.running;
  }

  private async drain(): Promise<void> {
    for (;;) {
      // Those that arrive in the same turn of the event loop share a transaction.
      await new Promise((resume) => setImmediate(resume));
      const batch = this.queue.splice(0, BATCH);
      if (batch.length === 0) return;
      await this.write(batch, 0);
    }
  }

  /** @param lost how often the connection was lost while these were written: they may be stored already */
  private async write(batch: readonly Waiting[], lost: number): Promise<void> {
    try {
      const outcomes = await act(
        this.source,
        new Date(Math.max(...batch.map(({ inquiry }) => inquiry.at.getTime()))),
        (acting, attempt) => acceptOnce(acting, batch, lost > 0 || attempt > 1),
      );
      batch.forEach((one, i) => {
        const outcome = outcomes[i];
        if (outcome instanceof Error || outcome === undefined) one.reject(outcome);
        else one.resolve(outcome);
      });
    } catch (error) {
      const pause = PAUSES[lost];
      if (isDatabaseAway(error) && pause !== undefined) {
        await new Promise((resume) => setTimeout(resume, pause));
        await this.write(batch, lost + 1);
      } else if (batch.length === 1 || isDatabaseAway(error)) for (const one of batch) one.reject(error);
      else for (const one of batch) await this.write([one], lost);
    }
  }
}

const nameOf = ({ sender, request }: Pick<RequestMark, 'sender' | 'request'>): string => `${sender} ${request}`;

/** What was answered to requests before, by their marks. */
async function answersTo(
  manager: EntityManager,
  marks: readonly RequestMark[],
): Promise<Map<string, AnsweredRequestEntity>> {
  if (marks.length === 0) return new Map();
  const rows = await manager.find(AnsweredRequestEntity, {
    where: marks.map(({ sender, request }) => ({ sender, request })),
  });
  return new Map(rows.map((row) => [nameOf(row), row]));
}

/** Answers what was answered before as before, and takes in the rest. */
async function acceptOnce(
  acting: Acting,
  batch: readonly Waiting[],
  mayBeStored: boolean,
): Promise<(Accepted | Refused)[]> {
  const { manager } = acting;
  const asked = batch.filter(({ repeatable }) => repeatable || mayBeStored);
  const known = await answersTo(
    manager,
    asked.map(({ mark }) => mark),
  );
  const first = new Map<string, Waiting>();
  const fresh = batch.filter((one) => {
    const name = nameOf(one.mark);
    if (known.has(name) || first.has(name)) return false;
    first.set(name, one);
    return true;
  });
  const accepted = (
    await acceptLeads(
      acting,
      fresh.map(({ inquiry }) => inquiry),
    )
  ).map((taken) => taken.accepted);
  const answerTo = new Map(fresh.map((one, i) => [one, accepted[i] as Accepted]));
  await insertRows(
    manager,
    AnsweredRequestEntity,
    fresh.map(({ mark, inquiry }, i) => ({ ...mark, answer: accepted[i] as Accepted, at: inquiry.at })),
  );

  return batch.map((one) => {
    const own = answerTo.get(one);
    if (own !== undefined) return own;
    const name = nameOf(one.mark);
    const stored = known.get(name);
    const twin = first.get(name);
    const body = stored?.body ?? twin?.mark.body;
    if (body !== one.mark.body) return Refused.as('key-reused');
    return stored?.answer ?? (answerTo.get(twin as Waiting) as Accepted);
  });
}
