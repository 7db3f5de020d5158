import type { DataSource } from 'typeorm';
import { finishRescores } from './rescore';
import { scoreCompanies } from './score-companies';
import { freeBay } from '../act/free-bay';
import { passTime } from './pass-time';

/** Carries on what nobody waits for: rescores, also those that a stop left undone; scores that time has changed, companies' too; who is in the bay and can leave it. */
export async function tend(source: DataSource, now: () => Date): Promise<void> {
  await finishRescores(source, now);
  await passTime(source, now());
  await scoreCompanies(source, now());
  await freeBay(source, now());
}
