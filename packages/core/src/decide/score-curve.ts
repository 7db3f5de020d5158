import type { ReadyCharter } from '../charter/ready-charter';
import { type FactsAround, GatheredFacts } from './facts';
import type { Instant } from '../record/keys';
import type { AnyRecord } from '../record/record';
import { HOUR, HOURS_A_DAY } from '../record/hours';
import { admissionOf } from '../score/score-by-sets';
import { scoreRecord } from '../score/score-record';

const DAY = HOURS_A_DAY * HOUR;
/** So many days are looked back at most, and ahead. */
export const CURVE_DAYS = { back: 120, ahead: 60 } as const;

/** A record's scores at one instant; null: an axis can't be judged, or no set grades it. */
export interface CurvePoint {
  readonly at: Instant;
  readonly fit: number | null;
  readonly engagement: number | null;
}

/**
 * How a record's scores went, day by day from its arrival (at most {@link CURVE_DAYS} back), and where they go if nothing
 * more happens, by the set that grades it now. What it is, is taken as it is now; what it did, as it was then.
 */
export function scoreCurve(charter: ReadyCharter, record: AnyRecord, around: FactsAround, now: Instant): CurvePoint[] {
  const first = Math.max(record.arrived, now - CURVE_DAYS.back * DAY);
  const back = Math.max(0, Math.floor((now - first) / DAY));
  const { grading } = admissionOf(charter.rules[record.kind].scoreSets, GatheredFacts.of(record, around, charter, now));
  return Array.from({ length: back + CURVE_DAYS.ahead + 1 }, (_, i) => {
    const at = now + (i - back) * DAY;
    if (grading === null) return { at, fit: null, engagement: null };
    const { fit, engagement } = scoreRecord(grading, record, GatheredFacts.of(record, around, charter, at), at);
    return { at, fit: fit.judged ? fit.score : null, engagement: engagement.judged ? engagement.score : null };
  });
}
