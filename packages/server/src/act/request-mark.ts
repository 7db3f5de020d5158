import { randomUUID } from 'node:crypto';
import type { EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { AnsweredRequestEntity } from '../store/entity/intake.entity';
import { insertRows } from '../store/rows';
import { isDatabaseAway } from '../store/transaction';

/** Marks a request, so that its repetition finds the first one's answer. */
export interface RequestMark {
  readonly sender: string;
  readonly request: string;
  /** SHA-256 of the body. */
  readonly body: string;
}

/** A mark for a request that came without one: with it a retry finds out whether the first try was stored. */
export function newMark(): RequestMark {
  return { sender: 'once', request: randomUUID(), body: '0'.repeat(64) };
}

/** Pauses before something is tried again while the database is away, ms: what waits is answered within some seconds. */
const PAUSES = [100, 400, 1500];

/**
 * Tries again while the database is away, since nobody knows whether a lost COMMIT was carried out.
 *
 * @param work is told whether it may have been stored already, so that it asks for its mark first
 */
export async function untilKnown<T>(work: (mayBeStored: boolean) => Promise<T>): Promise<T> {
  for (let lost = 0; ; lost += 1) {
    try {
      return await work(lost > 0);
    } catch (error) {
      const pause = PAUSES[lost];
      if (!isDatabaseAway(error) || pause === undefined) throw error;
      await new Promise((resume) => setTimeout(resume, pause));
    }
  }
}

/**
 * What was answered to a request before; null: it was not stored.
 *
 * @throws Refused `key-reused` if it came with another body
 */
export async function answerTo(
  manager: EntityManager,
  { sender, request, body }: RequestMark,
): Promise<AnsweredRequestEntity['answer'] | null> {
  const known = await manager.findOneBy(AnsweredRequestEntity, { sender, request });
  if (known !== null && known.body !== body) throw Refused.as('key-reused');
  return known?.answer ?? null;
}

/**
 * Does the work of a request and keeps its answer, unless that is kept already.
 *
 * @param ask whether it may have been answered before
 */
export async function answerOnce<T extends AnsweredRequestEntity['answer']>(
  manager: EntityManager,
  mark: RequestMark,
  ask: boolean,
  at: Date,
  work: () => Promise<T>,
): Promise<T> {
  const known = ask ? await answerTo(manager, mark) : null;
  if (known !== null) return known as T;
  const answer = await work();
  await insertRows(manager, AnsweredRequestEntity, [{ ...mark, answer, at }]);
  return answer;
}
