import type { Schedule } from '../calendar/schedule';
import type { Stream } from '../route/stream';

const WEEKDAYS = ['Mondays', 'Tuesdays', 'Wednesdays', 'Thursdays', 'Fridays', 'Saturdays', 'Sundays'];

/** "daily at 02:00". */
export function scheduleWords(schedule: Schedule): string {
  switch (schedule.kind) {
    case 'every': {
      const { minutes } = schedule;
      if (minutes === 60) return 'every hour';
      return minutes % 60 === 0 ? `every ${minutes / 60} hours` : `every ${minutes} minutes`;
    }
    case 'daily':
      return `daily at ${schedule.at}`;
    case 'weekly':
      return `on ${WEEKDAYS[schedule.day - 1] ?? ''} at ${schedule.at}`;
  }
}

/** When a stream runs, and whether its routes give away only then. */
export function runWords({ schedule, onlyOnSchedule }: Pick<Stream, 'schedule' | 'onlyOnSchedule'>): string {
  if (schedule === undefined) return 'never';
  return `${scheduleWords(schedule)}${onlyOnSchedule === true ? ', and gives away only then' : ''}`;
}
