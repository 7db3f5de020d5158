import type { Organisation, Rep } from './people';
import { hoursOf } from './calendars';
import { dayOf } from '../record/day';
import type { Instant } from '../record/keys';

/**
 * Whether someone is off for the day or longer: away, or on a day off that is a whole one by their own clock. Nights, weekends and
 * public holidays are no days off.
 */
export function isOff(rep: Rep, people: Pick<Organisation, 'teams'>, at: Instant): boolean {
  if (rep.away === true) return true;
  const day = dayOf(at, hoursOf(rep, people)?.timeZone ?? 'UTC');
  return (rep.daysOff ?? []).some(({ from, to, hours }) => hours === null && from <= day && day <= to);
}
