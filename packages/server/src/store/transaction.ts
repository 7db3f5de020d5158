import type { DataSource, EntityManager } from 'typeorm';
import { OutOfDate } from './rows';

const DEADLOCK = 1213;
const LOCK_WAIT = 1205;
const DUPLICATE = 1062;
const TRIES = 6;

interface DriverError {
  readonly errno?: number;
  readonly code?: string;
  readonly message?: string;
}

function errorOf(error: unknown): DriverError {
  const driver = typeof error === 'object' && error !== null && 'driverError' in error ? error.driverError : error;
  return driver as DriverError;
}

/** Indexes under which two servers may make the same at once. */
const MADE_ONCE = ['lead_one_open', 'contact_one_per_email', 'company_one_per_identity', 'PRIMARY'];

/** Whether the same work may succeed when it is begun again: nothing of it was stored, others were in the way. */
function mayRetry(error: unknown): boolean {
  if (error instanceof OutOfDate) return true;
  const { errno, message = '' } = errorOf(error);
  // Two servers took in the same person, or the same request, at once: on the next try the second finds what the first stored.
  if (errno === DUPLICATE) return MADE_ONCE.some((index) => message.includes(index));
  return errno === DEADLOCK || errno === LOCK_WAIT;
}

/** Errors after which nobody knows whether the last statement was carried out: the connection went, or nobody answered in time. */
const LOST_CODES: ReadonlySet<string | undefined> = new Set([
  'PROTOCOL_CONNECTION_LOST',
  'PROTOCOL_SEQUENCE_TIMEOUT',
  'PROTOCOL_ENQUEUE_AFTER_FATAL_ERROR',
  'ECONNRESET',
  'ECONNREFUSED',
  'ENOENT',
  'EPIPE',
  'ETIMEDOUT',
]);
/** Server shutting down, gone away, lost, killed, aborted, read-only, too many connections. */
const LOST_NUMBERS: ReadonlySet<number | undefined> = new Set([1053, 2006, 2013, 1927, 1152, 1290, 1836, 1040, 1969]);

/** Whether the database was away, or stopped answering, so that the end of what was asked may be unknown. */
export function isDatabaseAway(error: unknown): boolean {
  if (typeof error !== 'object' || error === null) return false;
  const { errno, code, message = '' } = errorOf(error);
  return (
    LOST_CODES.has(code) ||
    LOST_NUMBERS.has(errno) ||
    /in closed state|Connection lost|Queue limit reached|No connections available/.test(message)
  );
}

/** Whether an error is that a value stands already under a unique index. */
export function isDuplicate(error: unknown, index: string): boolean {
  const { errno, message = '' } = errorOf(error);
  return errno === DUPLICATE && message.includes(index);
}

/** Connections whose transactions read what is committed, from their first one on. */
const readingCommitted = new WeakSet();

/** Runs work in a transaction, in which each statement sees what others have committed. */
async function once<T>(source: DataSource, work: (manager: EntityManager) => Promise<T>): Promise<T> {
  const runner = source.createQueryRunner();
  try {
    const connection = (await runner.connect()) as object;
    if (!readingCommitted.has(connection)) {
      await runner.query('SET SESSION TRANSACTION ISOLATION LEVEL READ COMMITTED');
      readingCommitted.add(connection);
    }
    return await runner.manager.transaction(work);
  } finally {
    await runner.release();
  }
}

/**
 * Runs work in one transaction; a deadlock retries it from the start.
 *
 * @param work is told which attempt it is, from 1
 */
export async function inTransaction<T>(
  source: DataSource,
  work: (manager: EntityManager, attempt: number) => Promise<T>,
): Promise<T> {
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await once(source, (manager) => work(manager, attempt));
    } catch (error) {
      if (attempt === TRIES || !mayRetry(error)) throw error;
      await new Promise((resume) => setTimeout(resume, attempt * attempt * 5 * (1 + (process.pid % 7) / 7)));
    }
  }
}
