import { changesAt, decide, emptyRota, JUST_IN, scoresChangeAt, type PopulationRecord } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { JobEntity } from '../packages/server/src/store/entity/charter.entity';
import { inTransaction } from '../packages/server/src/store/transaction';
import type { Access } from '../packages/server/src/store/open-database';
import { passTime } from '../packages/server/src/job/pass-time';
import { again } from '../packages/server/src/act/act';
import { leadAfter } from '../packages/server/src/act/lead-after';
import { SCORE_COLUMNS, type ScoreRow, writeScores } from '../packages/server/src/act/write-scores';
import { IntakeWriter } from '../packages/server/src/intake/intake-writer';
import { readGoverning } from '../packages/server/src/store/governing';
import { loadLeads, withTiedValues } from '../packages/server/src/store/load-leads';
import { LeadEntity } from '../packages/server/src/store/entity/lead.entity';
import { BackgroundThread } from '../packages/server/src/job/background-worker';
import { atLeast, atMost, type Figure, letGo, ROUNDS } from './measure';
import { AS_OF, ready, recordsOf, SCORE_SET, world } from './setting';
import { store } from './stored.bench';

const CHANGED = 20_000;

async function took(work: () => Promise<unknown>): Promise<number> {
  letGo();
  const began = performance.now();
  await work();
  return performance.now() - began;
}

/** Scores that differ from round to round, so that every index entry moves. */
function changedRows(leads: readonly LeadEntity[], round: number): ScoreRow[] {
  const at = new Date(AS_OF + round * 1000);
  return leads.map((lead) => {
    const fit = (lead.id * 7 + round * 13) % 101;
    const engagement = (lead.id * 3 + round * 29) % 101;
    return {
      id: lead.id,
      admitted: 'yes',
      scoreSet: SCORE_SET.key,
      fit,
      engagement,
      rankOrder: fit + engagement,
      fitBand: SCORE_SET.grid.fit.bands[Math.min(4, Math.floor(fit / 21))]?.key ?? null,
      engagementBand: SCORE_SET.grid.engagement.bands[Math.min(3, Math.floor(engagement / 26))]?.key ?? null,
      charter: 1,
      decidedAt: at,
      touchedAt: lead.touchedAt,
      changesAt: new Date(at.getTime() + fit * 3_600_000),
    };
  });
}

const BATCH = 500;

/** The same rows by INSERT … ON DUPLICATE KEY UPDATE, in batches: every column that must not be null comes along. */
async function upsert(source: DataSource, leads: readonly LeadEntity[], rows: readonly ScoreRow[]): Promise<void> {
  await inTransaction(source, async (manager) => {
    for (let i = 0; i < rows.length; i += BATCH) {
      await manager
        .createQueryBuilder()
        .insert()
        .into(LeadEntity)
        .values(rows.slice(i, i + BATCH).map((row, k) => Object.assign({}, leads[i + k], row)))
        .orUpdate([...SCORE_COLUMNS], ['id'])
        .updateEntity(false)
        .execute();
    }
  });
}

async function writeBack(source: DataSource): Promise<Figure> {
  const leads = await source.manager.find(LeadEntity, { order: { id: 'ASC' }, take: CHANGED });
  const seen: number[] = [];
  for (let round = 0; round < ROUNDS; round += 1) {
    const slow = await took(() => upsert(source, leads, changedRows(leads, 2 * round)));
    const fast = await took(() =>
      inTransaction(source, (manager) => writeScores(manager, changedRows(leads, 2 * round + 1))),
    );
    console.log(`  ${Math.round((CHANGED * 1000) / slow)} and ${Math.round((CHANGED * 1000) / fast)} rows/s`);
    seen.push(slow / fast);
  }
  return atLeast(
    'S6',
    `write-back of ${CHANGED.toLocaleString('en')} changed scores, against INSERT … ON DUPLICATE KEY UPDATE`,
    2.5,
    seen,
  );
}

function percentile95(list: readonly number[]): number {
  return [...list].sort((a, b) => a - b)[Math.floor(list.length * 0.95)] ?? NaN;
}

/** Leads that come in one every so many milliseconds, and how long each waits until it is on disk. */
async function intake(source: DataSource, prefix: string, until: () => boolean): Promise<number[]> {
  const writer = new IntakeWriter(source);
  const waits: Promise<number>[] = [];
  for (let i = 0; !until(); i += 1) {
    const began = performance.now();
    const values = { email: `${prefix}${i}@intake.example`, industry: 'Brewery', employees: '120' };
    const accepted = writer.accept({
      cause: { kind: 'api', name: 'bench' },
      at: new Date(),
      values,
      owner: null,
      trusted: true,
    });
    waits.push(accepted.then(() => performance.now() - began));
    await new Promise((resume) => setTimeout(resume, 20));
  }
  return Promise.all(waits);
}

/** The rescore runs in a thread of its own, as in the server. */
async function intakeBeside(source: DataSource, access: Access): Promise<Figure> {
  const seen: number[] = [];
  const background = new BackgroundThread(access, (why) => {
    throw new Error(why);
  });
  for (let round = 0; round < 2; round += 1) {
    const started = performance.now();
    const alone = await intake(source, `a${round}-`, () => performance.now() - started > 8000);
    await source.query("UPDATE `lead` SET charter = 0 WHERE status = 'open'");
    await source.manager.insert(JobEntity, {
      state: 'running',
      charter: 1,
      total: 100_000,
      done: 0,
      changed: 0,
      failed: 0,
      error: null,
      scope: { which: 'all' },
      reach: 'score',
      cursor: 0,
      startedBy: 'bench',
      starter: null,
      startedAt: new Date(),
      endedAt: null,
    });
    let done = false;
    const began = performance.now();
    background.wake();
    const watch = setInterval(() => {
      void source.manager.countBy(JobEntity, { state: 'running' }).then((running) => {
        done = running === 0;
      });
    }, 500);
    const beside = await intake(source, `b${round}-`, () => done);
    clearInterval(watch);
    const seconds = (performance.now() - began) / 1000;
    console.log(
      `  rescore in ${seconds.toFixed(1)} s; intake's 95th percentile ${percentile95(alone).toFixed(1)} ms alone, ${percentile95(beside).toFixed(1)} ms beside it`,
    );
    seen.push(percentile95(beside) / percentile95(alone));
  }
  await background.stop();
  return atMost('S6', 'intake’s 95th percentile beside a rescore of 100,000 leads, against its own', 2, 'times', seen);
}

/** How long it takes to find when a score changes by itself, and to write what a day has changed. */
async function time(source: DataSource, records: readonly PopulationRecord[]): Promise<void> {
  const charter = ready();
  const some = records.slice(0, 5000);
  const began = performance.now();
  let soon = 0;
  for (const { record } of some) if (scoresChangeAt(charter, record, world(), AS_OF) < AS_OF + 86_400_000) soon += 1;
  const each = ((performance.now() - began) * 1000) / some.length;
  console.log(`  when a score changes by itself: ${each.toFixed(0)} µs a lead; ${soon} of ${some.length} within a day`);
  const later = new Date(Date.now() + 86_400_000);
  const started = performance.now();
  const due = await passTime(source, later);
  console.log(`  what a day changed: ${due} leads in ${((performance.now() - started) / 1000).toFixed(1)} s`);
}

/** Decides all leads and keeps only how they stand: a rescore finds them graded, as a live set-up has them. */
export async function gradeAll(source: DataSource): Promise<void> {
  const charter = ready();
  const asOf = new Date();
  const { ties } = await readGoverning(source.manager, 'none');
  const { tied } = charter.rules.lead;
  const people = { ...world(), rota: emptyRota() };
  const columns = source
    .getMetadata(LeadEntity)
    .columns.filter((column) => !column.isPrimary)
    .map((column) => column.databaseName);
  for (let first = 1; first <= 100_000; first += 2000) {
    const ids = Array.from({ length: 2000 }, (_, i) => first + i);
    const loaded = await withTiedValues(source.manager, await loadLeads(source.manager, ids, 'none'), tied);
    const leads = loaded.map(({ entity, record }) => {
      const fresh = { ...record, standing: JUST_IN };
      const one = again({ entity, record: fresh }, 'created', { kind: 'api', name: 'bench' }, asOf);
      const decision = decide(charter, fresh, people, 'created', asOf.getTime());
      return leadAfter(one, decision, new Date(changesAt(charter, record, decision, people, asOf.getTime())), {
        number: 1,
        ties,
        ready: charter,
      });
    });
    await source.manager
      .createQueryBuilder()
      .insert()
      .into(LeadEntity)
      .values(leads)
      .orUpdate(columns, ['id'])
      .updateEntity(false)
      .execute();
  }
}

/** S6: the write-back of a rescore, and intake beside it. */
export async function rescoreFigures(source: DataSource, access: Access): Promise<Figure[]> {
  const records = recordsOf(100_000);
  // With contacts and companies beside them, that many leads no longer fit into the pool of tests.
  await source.query('SET GLOBAL innodb_buffer_pool_size = 1073741824');
  console.log('  storing 100,000 leads …');
  await store(source, records);
  // The bench's people share addresses; of open leads each has its own.
  await source.query(
    "UPDATE field_value SET folded = CONCAT(record, '-', folded), shown = CONCAT(record, '-', shown) WHERE field = 'email' AND kind = 'text'",
  );
  await gradeAll(source);
  const figures = [await intakeBeside(source, access)];
  await time(source, records);
  figures.push(await writeBack(source));
  await source.query('SET GLOBAL innodb_buffer_pool_size = 268435456');
  return figures;
}
