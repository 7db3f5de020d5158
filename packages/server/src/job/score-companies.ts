import { gradeRecord, scoresChangeAt, type Score } from '@relvik/core';
import { type DataSource, type EntityManager, In } from 'typeorm';
import { governedBy, readGoverning } from '../store/governing';
import { clearFailures, eachAlone, notFailing } from '../store/failures';
import { inTransaction } from '../store/transaction';
import { writeSideScores } from '../act/write-scores';
import { scoredColumns } from '../store/entity/scored.entity';
import { CompanyEntity } from '../store/entity/company.entity';
import { loadCompanies } from '../store/load-companies';

const BATCH = 100;
const DAY = 86_400_000;

/**
 * Scores the companies that are due: a lead of theirs changed, another charter came into force, or time moves their scores.
 *
 * Nobody waits for it: nothing is locked while it computes, and where a lead changed meanwhile the company stays due.
 *
 * @returns how many were due
 */
export async function scoreCompanies(source: DataSource, now: Date): Promise<number> {
  let done = 0;
  for (;;) {
    const ids = (
      await source.query<{ id: number }[]>(
        `SELECT id FROM company WHERE due <= ? AND ${notFailing('company.id')} ORDER BY due, id LIMIT ?`,
        [now, 'companies', now, BATCH],
      )
    ).map(({ id }) => id);
    if (ids.length === 0) return done;
    let kept = 0;
    const failed = await eachAlone(source, 'companies', ids, now, async (some) => {
      const due = await source.manager.find(CompanyEntity, { where: { id: In([...some]) }, order: { id: 'ASC' } });
      kept += await inTransaction(source, (manager) => scoreBatch(manager, due, now));
    });
    if (kept > 0)
      await clearFailures(
        source,
        'companies',
        ids.filter((id) => !failed.includes(id)),
      );
    done += ids.length - failed.length;
    // All of them changed meanwhile: they wait for the next time, not in a circle.
    if (kept === 0 && failed.length < ids.length) return done;
  }
}

/**
 * Scores companies: by the charter in force where something happened to them, by the one that gave them their scores where
 * only time has passed.
 *
 * @returns how many were scored and did not change meanwhile
 */
async function scoreBatch(manager: EntityManager, due: readonly CompanyEntity[], now: Date): Promise<number> {
  const inForce = await readGoverning(manager, 'share');
  const records = await loadCompanies(manager, due);
  let kept = 0;
  const scored: { id: number; score: Score }[] = [];
  for (const { id, changes, touched, charter } of due) {
    const record = records.get(id);
    const company = { id, changes };
    const by = touched || charter === null ? inForce : await governedBy(manager, charter, inForce);
    if (record === undefined || by === null) {
      // Without leads it is not scored; a charter that names what is gone moves nothing, and is tried again.
      const next = by === null ? new Date(now.getTime() + DAY) : null;
      kept += (await manager.update(CompanyEntity, company, { due: next })).affected ?? 0;
      continue;
    }
    const { ready } = by;
    const graded = gradeRecord(ready, record, by.world, now.getTime());
    const { affected } = await manager.update(CompanyEntity, company, {
      due:
        ready.rules.company.scoreSets.length === 0
          ? null
          : new Date(scoresChangeAt(ready, record, by.world, now.getTime())),
      ...scoredColumns(graded),
      touched: false,
      charter: by.number,
      scoredAt: now,
    });
    if (affected === 0) continue;
    kept += 1;
    scored.push({ id, score: graded.score });
  }
  await writeSideScores(manager, scored);
  return kept;
}
