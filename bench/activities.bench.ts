import type { SentActivity } from '@relvik/contracts';
import type { DataSource } from 'typeorm';
import { acceptActivities } from '../packages/server/src/act/accept-activities';
import { Dice } from './dice';

const BATCH = 1000;
const KINDS = ['mail_opened', 'mail_clicked', 'page_visited', 'form_filled', 'call_taken'];

function batchOf(n: number, leads: number): SentActivity[] {
  const dice = new Dice(n + 1);
  return Array.from({ length: BATCH }, (_, i) => ({
    lead: 1 + dice.whole(leads),
    kind: dice.pick(KINDS),
    at: new Date(Date.now() - dice.whole(30 * 86_400_000)).toISOString(),
    event: `e${n}-${i}`,
    properties: { page: `/page-${dice.whole(40)}` },
  }));
}

/**
 * So many activities, in batches of a thousand, each lead decided again; and the same rows by plain INSERT into a table with
 * the same indexes.
 *
 * @returns rows a second: taken in, and plainly inserted
 */
export async function activityRates(
  source: DataSource,
  count: number,
  leads: number,
): Promise<readonly [number, number]> {
  await source.query('CREATE TABLE plain_activity LIKE activity');
  let taking = 0;
  let inserting = 0;
  for (let n = 0; n < count / BATCH; n += 1) {
    const batch = batchOf(n, leads);
    let began = performance.now();
    const { accepted } = await acceptActivities(source, {
      sender: 'bench',
      cause: { kind: 'api', name: 'bench' },
      activities: batch,
      at: new Date(),
    });
    taking += performance.now() - began;
    if (accepted !== BATCH) throw new Error(`Only ${accepted} of ${BATCH} were taken in`);
    began = performance.now();
    await source.query('INSERT INTO plain_activity (record, kind, at, properties, sender, event) VALUES ?', [
      batch.map(({ lead, kind, at, event, properties }) => [
        lead,
        kind,
        new Date(at ?? 0),
        JSON.stringify(properties),
        'bench',
        event,
      ]),
    ]);
    inserting += performance.now() - began;
    if (n % 100 === 99) console.log(`  ${(n + 1) * BATCH}: ${Math.round(((n + 1) * BATCH * 1000) / taking)} rows/s`);
  }
  return [(count * 1000) / taking, (count * 1000) / inserting];
}
