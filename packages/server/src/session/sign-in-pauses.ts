import { fold } from '@relvik/core';
import { type DataSource, LessThan } from 'typeorm';
import { SignInPauseEntity } from '../store/entity/people.entity';
import { sha256 } from './session-store';

/** Wrong passwords without a pause; each one after them doubles it, from one second on. */
const FORGIVEN = 2;
const LONGEST = 15 * 60_000;
/** Whoever knows an e-mail can cause pauses for its account: from other addresses they stay short. */
const LONGEST_FOR_ACCOUNT = 5_000;
/** Wrong passwords are forgotten after this time without another one, ms. */
const FORGOTTEN = 3_600_000;

interface Tried {
  readonly hash: string;
  readonly longest: number;
}

/** The two counters of a try: the account from one address, and the account from anywhere. */
function triedOf(email: string, address: string): readonly Tried[] {
  const account = fold(email);
  return [
    { hash: sha256(`${account} ${address}`), longest: LONGEST },
    { hash: sha256(account), longest: LONGEST_FOR_ACCOUNT },
  ];
}

/** For how long the next try has to wait, ms; 0: not at all. */
export async function pauseOf(source: DataSource, email: string, address: string, now: Date): Promise<number> {
  const hashes = triedOf(email, address).map(({ hash }) => hash);
  const [row] = await source.query<{ until: Date | null }[]>(
    'SELECT MAX(until) AS until FROM sign_in_pause WHERE hash IN (?)',
    [hashes],
  );
  return Math.max(0, (row?.until?.getTime() ?? 0) - now.getTime());
}

/** Counts a wrong password; the pause grows with each. */
export async function countWrong(source: DataSource, email: string, address: string, now: Date): Promise<void> {
  for (const { hash, longest } of triedOf(email, address)) {
    // The assignments are made in this order: the pause follows from the count as it is then.
    await source.query(
      `INSERT INTO sign_in_pause (hash, failures, last, until) VALUES (?, 1, ?, ?) ON DUPLICATE KEY UPDATE
         failures = IF(last < ?, 1, failures + 1), last = VALUES(last),
         until = IF(failures <= ${FORGIVEN}, VALUES(last),
           TIMESTAMPADD(MICROSECOND, LEAST(${longest}, 1000 * POW(2, LEAST(failures, 40) - ${FORGIVEN + 1})) * 1000, VALUES(last)))`,
      [hash, now, now, new Date(now.getTime() - FORGOTTEN)],
    );
  }
}

/** The right password ends the pause of the account from this address. */
export async function forgiveWrong(source: DataSource, email: string, address: string): Promise<void> {
  const [own] = triedOf(email, address);
  if (own !== undefined) await source.manager.delete(SignInPauseEntity, { hash: own.hash });
}

/** Takes away what is forgotten. */
export async function forgetPauses(source: DataSource, now: Date): Promise<void> {
  await source.manager.delete(SignInPauseEntity, { last: LessThan(new Date(now.getTime() - FORGOTTEN)) });
}
