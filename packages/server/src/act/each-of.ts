import type { DoneEach } from '@relvik/contracts';
import { Refused } from '../problem/refused';

/** Does something to each, one after the other; those that are refused stay as they are, and are told why. */
export async function eachOf(ids: readonly number[], work: (id: number) => Promise<void>): Promise<DoneEach> {
  const done: number[] = [];
  const refused: { id: number; why: string }[] = [];
  for (const id of new Set(ids))
    try {
      await work(id);
      done.push(id);
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      refused.push({ id, why: refusalWords(error) });
    }
  return { done, refused };
}

/** A refusal in one line. */
export function refusalWords({ problem }: Refused): string {
  const [first] = problem.errors ?? [];
  return first?.message ?? [problem.title, problem.detail].filter(Boolean).join('. ');
}
