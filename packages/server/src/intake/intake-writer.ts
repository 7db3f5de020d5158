import type { Accepted } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { inTransaction } from '../database/in-transaction';
import { acceptLeads, type Inquiry } from './accept-leads';
import { AnsweredRequestEntity } from './intake.entity';

/** Marks a request, so that its repetition finds the first one's answer. */
export interface RequestMark {
  readonly sender: string;
  readonly request: string;
  /** SHA-256 of the body. */
  readonly body: string;
}

/** The same mark came with another body. */
export class MarkReused extends Error {}

interface Waiting {
  readonly inquiry: Inquiry;
  readonly mark: RequestMark | null;
  readonly resolve: (accepted: Accepted) => void;
  readonly reject: (error: unknown) => void;
}

const BATCH = 500;

/**
 * The one writer of a server: what waits is taken in together, up to 500 leads a transaction, and answered after the commit.
 *
 * A batch that fails is retried lead by lead, so that one that can't be taken in fails alone.
 */
export class IntakeWriter {
  private readonly queue: Waiting[] = [];
  private running: Promise<void> | null = null;

  constructor(private readonly source: DataSource) {}

  /** Resolves when the lead is on disk. */
  accept(inquiry: Inquiry, mark: RequestMark | null = null): Promise<Accepted> {
    return new Promise((resolve, reject) => {
      this.queue.push({ inquiry, mark, resolve, reject });
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
      await this.write(batch);
    }
  }

  private async write(batch: readonly Waiting[]): Promise<void> {
    try {
      const outcomes = await inTransaction(this.source, (manager) => acceptOnce(manager, batch));
      batch.forEach((one, i) => {
        const outcome = outcomes[i];
        if (outcome instanceof Error || outcome === undefined) one.reject(outcome);
        else one.resolve(outcome);
      });
    } catch (error) {
      if (batch.length === 1) batch[0]?.reject(error);
      else for (const one of batch) await this.write([one]);
    }
  }
}

/** Answers what was answered before as before, and takes in the rest. */
async function acceptOnce(manager: EntityManager, batch: readonly Waiting[]): Promise<(Accepted | MarkReused)[]> {
  const marks = batch.flatMap(({ mark }) => (mark === null ? [] : [mark]));
  const answered =
    marks.length === 0
      ? []
      : await manager.find(AnsweredRequestEntity, { where: marks.map(({ sender, request }) => ({ sender, request })) });
  const nameOf = (mark: Pick<RequestMark, 'sender' | 'request'>): string => `${mark.sender} ${mark.request}`;
  const known = new Map(answered.map((row) => [nameOf(row), row]));

  const first = new Map<string, Waiting>();
  const fresh = batch.filter((one) => {
    if (one.mark === null) return true;
    const name = nameOf(one.mark);
    if (known.has(name) || first.has(name)) return false;
    first.set(name, one);
    return true;
  });
  const accepted = await acceptLeads(
    manager,
    fresh.map((one) => one.inquiry),
  );
  const answers = fresh.flatMap(({ mark, inquiry }, i) =>
    mark === null ? [] : [{ ...mark, answer: accepted[i] as Accepted, at: inquiry.at }],
  );
  if (answers.length > 0) await manager.insert(AnsweredRequestEntity, answers);

  const answerTo = new Map(fresh.map((one, i) => [one, accepted[i] as Accepted]));
  return batch.map((one) => {
    const own = answerTo.get(one);
    if (own !== undefined || one.mark === null) return own as Accepted;
    const name = nameOf(one.mark);
    const stored = known.get(name);
    const twin = first.get(name);
    const body = stored?.body ?? twin?.mark?.body;
    if (body !== one.mark.body) return new MarkReused();
    return stored?.answer ?? (answerTo.get(twin as Waiting) as Accepted);
  });
}
