import { WorkCalendar } from '../calendar/work-calendar';
import type { WorkHours } from '../calendar/work-hours';
import type { RepKey } from '../record/keys';
import { type Organisation, type Rep, teamsOf } from './people';

const ALWAYS: WorkHours = { timeZone: 'UTC', weekly: null };

/** Calendars by the people that they were made of: people are never changed, but read anew. */
const kept = new WeakMap<Organisation['reps'], Map<RepKey, WorkCalendar>>();

/** The working time of someone, with the hours of their team where they have none of their own. */
export function calendarOf(rep: Rep, people: Organisation): WorkCalendar {
  const known = kept.get(people.reps) ?? new Map<RepKey, WorkCalendar>();
  kept.set(people.reps, known);
  const found = known.get(rep.key);
  if (found !== undefined) return found;
  const holidays = rep.holidaysOf == null ? [] : (people.holidays?.get(rep.holidaysOf) ?? []);
  const calendar = new WorkCalendar(hoursOf(rep, people) ?? ALWAYS, rep.daysOff ?? [], holidays);
  known.set(rep.key, calendar);
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
