import type { DataSource, EntityManager } from 'typeorm';

const DEADLOCK = 1213;
const LOCK_WAIT = 1205;
const DUPLICATE = 1062;
const TRIES = 6;

function errorOf(error: unknown): { readonly errno?: number; readonly message: string } {
  const driver = typeof error === 'object' && error !== null && 'driverError' in error ? error.driverError : error;
  return driver as { errno?: number; message: string };
}

/** Whether the same work may succeed when it is begun anew: others were in the way. */
function mayRetry(error: unknown): boolean {
  const { errno, message } = errorOf(error);
  // Two servers took in the same person at once: on the next try the second finds the first's lead and joins it.
  if (errno === DUPLICATE) return message.includes('lead_one_open_per_email') || message.includes('PRIMARY');
  return errno === DEADLOCK || errno === LOCK_WAIT;
}

/** Whether an error is that a value stands already under a unique index. */
export function isDuplicate(error: unknown, index: string): boolean {
  const { errno, message } = errorOf(error);
  return errno === DUPLICATE && message.includes(index);
}

/** Runs work in one transaction; a deadlock retries it from the start. */
export async function inTransaction<T>(source: DataSource, work: (manager: EntityManager) => Promise<T>): Promise<T> {
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await source.transaction('READ COMMITTED', work);
    } catch (error) {
      if (attempt === TRIES || !mayRetry(error)) throw error;
      await new Promise((resume) => setTimeout(resume, attempt * attempt * 5 * (1 + (process.pid % 7) / 7)));
    }
  }
}
