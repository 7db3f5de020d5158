import type { DataSource } from 'typeorm';
import { charterInForce } from '../store/governing';
import { DateTime } from 'luxon';
import { examineAndReport, lastReport } from './examine';

/** The hour, by the charter's clock, from which on the doctor makes its round. */
const HOUR = 3;

/** Makes the doctor's round once a night: the first time it is looked at after three o'clock in the charter's zone. */
export async function nightly(source: DataSource, now: Date): Promise<void> {
  const { body } = await charterInForce(source.manager, 'none');
  const local = DateTime.fromJSDate(now, { zone: body.timeZone });
  const three = local.startOf('day').plus({ hours: HOUR });
  const due = local < three ? three.minus({ days: 1 }) : three;
  const last = await lastReport(source.manager);
  if (last === null || last.at < due.toMillis()) await examineAndReport(source, now);
}
