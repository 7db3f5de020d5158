import type { Accepted } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { act } from '../act/acting';
import type { Acting } from '../act/perform';
import { newMark, type RequestMark, untilKnown } from '../act/request-mark';
import { isDatabaseAway } from '../store/transaction';
import { insertRows } from '../store/rows';
import { acceptLeads, type Inquiry } from '../act/accept-leads';
import { AnsweredRequestEntity } from '../store/entity/intake.entity';

/** Takes leads in: each is on disk when its answer comes. */
export interface LeadWriter {
  accept(inquiry: Inquiry, mark?: RequestMark | null): Promise<Accepted>;
  /** Resolves when nothing is being written any more. */
  settled(): Promise<void>;
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

/**
 * The one writer of a server: what waits is taken in together, up to 500 leads a transaction, and answered after the commit.
 * Turns and loads are locked in the order in which leads were accepted.
 *
 * A batch that fails is retried lead by lead, so that one that can't be taken in fails alone. Where the connection was lost,
 * nobody knows whether the batch was stored: the retry asks for the marks first.
 */
export class IntakeWriter implements LeadWriter {
  private readonly queue: Waiting[] = [];
  private writing = false;
  private written: Promise<void> = Promise.resolve();

  constructor(private readonly source: DataSource) {}

  /** Resolves when the lead is on disk. */
  accept(inquiry: Inquiry, mark: RequestMark | null = null): Promise<Accepted> {
    return new Promise((resolve, reject) => {
      this.queue.push({ inquiry, mark: mark ?? newMark(), repeatable: mark !== null, resolve, reject });
      if (!this.writing) this.written = this.writeAll();
    });
  }

  /** Resolves when nothing is being written any more. */
  settled(): Promise<void> {
    return this.written;
  }

  /** Those share a transaction that came while the one before was written, or in the same turn of the event loop. */
  private async writeAll(): Promise<void> {
    this.writing = true;
    for (;;) {
      await nextTurn();
      const batch = this.queue.splice(0, BATCH);
      if (batch.length === 0) break;
      await this.write(batch);
    }
    this.writing = false;
  }

  /** @param doubtful they may be stored already: a connection was lost while they were written */
  private async write(batch: readonly Waiting[], doubtful = false): Promise<void> {
    let left = batch;
    let mayBeStored = doubtful;
    try {
      await untilKnown(async (lost) => {
        mayBeStored ||= lost;
        if (mayBeStored) left = await this.answerStored(left);
        if (left.length === 0) return;
        const outcomes = await act(
          this.source,
          new Date(Math.max(...left.map(({ inquiry }) => inquiry.at.getTime()))),
          (acting, attempt) => acceptOnce(acting, left, mayBeStored || attempt > 1),
        );
        left.forEach((one, i) => {
          const outcome = outcomes[i];
          if (outcome instanceof Error || outcome === undefined) one.reject(outcome);
          else one.resolve(outcome);
        });
      });
    } catch (error) {
      if (left.length === 1 || isDatabaseAway(error)) for (const one of left) one.reject(error);
      else for (const one of left) await this.write([one], mayBeStored);
    }
  }

  /**
   * Answers those that turn out to be stored: that takes no transaction, whose end could be lost as well.
   *
   * @returns the others
   */
  private async answerStored(batch: readonly Waiting[]): Promise<readonly Waiting[]> {
    const known = await answersTo(
      this.source.manager,
      batch.map(({ mark }) => mark),
    );
    return batch.filter(({ mark, resolve }) => {
      const stored = known.get(nameOf(mark));
      if (stored?.body !== mark.body) return true;
      resolve(stored.answer as Accepted);
      return false;
    });
  }
}

const nextTurn = (): Promise<void> =>
  new Promise((resume) => {
    setImmediate(resume);
  });

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
  const taken = await acceptLeads(
    acting,
    fresh.map(({ inquiry }) => inquiry),
  );
  const outcomeOf = new Map(
    fresh.map((one, i) => {
      const outcome = taken[i] as (typeof taken)[number];
      return [one, outcome instanceof Refused ? outcome : outcome.accepted] as const;
    }),
  );
  await insertRows(
    manager,
    AnsweredRequestEntity,
    [...outcomeOf].flatMap(([{ mark, inquiry }, answer]) =>
      answer instanceof Refused ? [] : [{ ...mark, answer, at: inquiry.at }],
    ),
  );

  return batch.map((one) => {
    const own = outcomeOf.get(one);
    if (own !== undefined) return own;
    const name = nameOf(one.mark);
    const stored = known.get(name);
    const twin = first.get(name);
    const body = stored?.body ?? twin?.mark.body;
    if (body !== one.mark.body) return Refused.as('key-reused');
    return (stored?.answer as Accepted | undefined) ?? (outcomeOf.get(twin as Waiting) as Accepted | Refused);
  });
}
