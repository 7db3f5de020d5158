import { WorkCalendar } from '../calendar/work-calendar';
import type { WorkHours } from '../calendar/work-hours';
import { type Organisation, type Rep, teamsOf } from './people';

const ALWAYS: WorkHours = { timeZone: 'UTC', weekly: null };

interface Kept extends Pick<Organisation, 'teams' | 'holidays'> {
  readonly calendar: WorkCalendar;
}

/** Calendars by person, with what else they were made of: people are never changed, but read anew. */
const kept = new WeakMap<Rep, Kept>();

/** The working time of someone, with the hours of their team where they have none of their own. */
export function calendarOf(rep: Rep, people: Organisation): WorkCalendar {
  const { teams, holidays } = people;
  const known = kept.get(rep);
  if (known?.teams === teams && known.holidays === holidays) return known.calendar;
  const off = rep.holidaysOf == null ? [] : (holidays?.get(rep.holidaysOf) ?? []);
  const calendar = new WorkCalendar(hoursOf(rep, people) ?? ALWAYS, rep.daysOff ?? [], off);
  kept.set(rep, { teams, holidays, calendar });
  return calendar;
}

/** The hours that count for someone: their own, else those of the first of their teams that has any; null: any hour. */
export function hoursOf(rep: Rep, { teams }: Pick<Organisation, 'teams'>): WorkHours | null {
  if (rep.hours != null) return rep.hours;
  for (const team of teamsOf(rep.key, teams)) {
    const hours = teams.get(team)?.hours;
    if (hours != null) return hours;
  }
  return null;
}
