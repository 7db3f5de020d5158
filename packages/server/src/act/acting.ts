import type { DataSource } from 'typeorm';
import { inTransaction } from '../store/transaction';
import { freeBay } from './free-bay';
import type { Acting } from './perform';

/**
 * Acts in one transaction. Whatever frees someone wakes the bay, here and nowhere else: after the commit those leave it who
 * can. If that fails the background job does it later; what was acted stands.
 *
 * @param now when those who wait are decided
 */
export async function act<T>(
  source: DataSource,
  now: Date,
  work: (acting: Acting, attempt: number) => Promise<T>,
): Promise<T> {
  const { result, frees } = await inTransaction(source, async (manager, attempt) => {
    const acting: Acting = { manager, frees: false };
    return { result: await work(acting, attempt), frees: acting.frees };
  });
  if (frees) await freeBay(source, now).catch(() => undefined);
  return result;
}
