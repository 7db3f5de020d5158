import { DateTime } from 'luxon';

/** How soon a task is due, as its reader's clock shows it. */
export type DueGroup = 'overdue' | 'today' | 'tomorrow' | 'week' | 'later';

/** The groups of a list of tasks, in order. `week`: up to seven days from now. */
export const DUE_HEADS: Readonly<Record<DueGroup, string>> = {
  overdue: 'Overdue',
  today: 'Today',
  tomorrow: 'Tomorrow',
  week: 'Within a week',
  later: 'Later',
};

export function dueGroup(due: number, now: number): DueGroup {
  if (due < now) return 'overdue';
  const days = daysBetween(now, due);
  if (days === 0) return 'today';
  if (days === 1) return 'tomorrow';
  return days <= 7 ? 'week' : 'later';
}

function daysBetween(now: number, due: number): number {
  const [from, to] = [now, due].map((at) => DateTime.fromMillis(at).startOf('day'));
  return from === undefined || to === undefined ? 0 : Math.round(to.diff(from, 'days').days);
}

/** When a task is due, in few words: "today 15:20", "Fri 4 Dec 09:00", with its year where that is another. */
export function dueWords(due: number, now: number): string {
  const [at, today] = [DateTime.fromMillis(due).setLocale('en-GB'), DateTime.fromMillis(now)];
  const days = daysBetween(now, due);
  const named = { '-1': 'yesterday', '0': 'today', '1': 'tomorrow' }[String(days)];
  const day = named ?? at.toFormat(at.year === today.year ? 'ccc d LLL' : 'ccc d LLL yyyy');
  return `${day} ${at.toFormat('HH:mm')}`;
}
