import type { DoctorFinding, DoctorReport } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { DoctorReportEntity } from '../store/entity/doctor-report.entity';
import { inTransaction } from '../store/transaction';
import { type Check, CHECKS } from './checks';

/** As many faults of one kind are mended at a time. */
const AT_ONCE = 500;
const NAMED = 5;

async function examineOne(source: DataSource, check: Check, mend: boolean, now: Date): Promise<DoctorFinding | null> {
  let count = 0;
  let some: string[] = [];
  for (;;) {
    const ids = (await source.query<{ id: number | string }[]>(`${check.sql} LIMIT ${AT_ONCE}`)).map(({ id }) => id);
    if (some.length === 0) some = ids.slice(0, NAMED).map(String);
    count += ids.length;
    if (ids.length === 0 || check.mend === null || !mend) break;
    const { mend: work } = check;
    await inTransaction(source, (manager) => work(manager, ids, now));
    if (ids.length < AT_ONCE) break;
  }
  if (count === 0) return null;
  return { check: check.key, what: check.what, count, some, mended: mend && check.mend !== null };
}

/**
 * Looks for what faults leave behind, and mends what can be mended without a person's judgement.
 *
 * @param mend false: only looks
 */
export async function examine(source: DataSource, now: Date, mend: boolean): Promise<DoctorFinding[]> {
  const findings: DoctorFinding[] = [];
  for (const check of CHECKS) {
    const finding = await examineOne(source, check, mend, now);
    if (finding !== null) findings.push(finding);
  }
  return findings;
}

/** Examines, mends and keeps what was found, so that the home page can say it. */
export async function examineAndReport(source: DataSource, now: Date): Promise<void> {
  const findings = await examine(source, now, true);
  await source.manager.insert(DoctorReportEntity, { at: now, findings });
  const [kept] = await source.manager.find(DoctorReportEntity, { order: { id: 'DESC' }, skip: 30, take: 1 });
  if (kept !== undefined) await source.manager.query('DELETE FROM doctor_report WHERE id <= ?', [kept.id]);
}

/** What the doctor found last; null: it has not looked yet. */
export async function lastReport(manager: EntityManager): Promise<DoctorReport | null> {
  const [report] = await manager.find(DoctorReportEntity, { order: { id: 'DESC' }, take: 1 });
  return report === undefined ? null : { at: report.at.getTime(), findings: report.findings };
}
