import { type ClockSpan, minutesOfDay, type WeeklySpan, type WorkHours } from '@relvik/core';

export const WEEKDAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'] as const;

/** The hours of one day as they are typed: `08:00-12:00, 13:00-16:00`. */
export function spansText(spans: readonly ClockSpan[]): string {
  return spans.map(({ from, to }) => `${from}-${to}`).join(', ');
}

/** Typed hours of one day; null: they can't be read. Nothing typed is a day off. */
export function readSpans(text: string): ClockSpan[] | null {
  const spans: ClockSpan[] = [];
  for (const part of text.split(',').map((one) => one.trim())) {
    if (part === '') continue;
    const ends = part.split(/[-–]/).map((end) => clock(end.trim()));
    const [from, to] = ends;
    if (ends.length !== 2 || from == null || to == null || from >= to) return null;
    spans.push({ from, to });
  }
  return spans;
}

/** `8`, `8:30` and `08:30` are times of day. */
function clock(text: string): string | null {
  const found = /^(\d{1,2})(?::(\d{2}))?$/.exec(text);
  if (found === null) return null;
  const written = `${(found[1] ?? '').padStart(2, '0')}:${found[2] ?? '00'}`;
  return minutesOfDay(written) === null ? null : written;
}

/** The hours of a week in words, days alike together: `Mon–Fri 08:00-16:00`. */
export function weekWords(weekly: readonly WeeklySpan[] | null): string {
  if (weekly === null) return 'any hour';
  const runs: { from: number; to: number; text: string }[] = [];
  WEEKDAYS.forEach((_, i) => {
    const text = spansText(weekly.filter(({ day }) => day === i + 1));
    const last = runs.at(-1);
    if (last?.text === text) last.to = i;
    else runs.push({ from: i, to: i, text });
  });
  const words = runs
    .filter(({ text }) => text !== '')
    .map(({ from, to, text }) => `${WEEKDAYS[from]}${to > from ? `–${WEEKDAYS[to]}` : ''} ${text}`);
  return words.length === 0 ? 'no hours' : words.join('; ');
}

export function hoursWords(hours: WorkHours | null): string {
  return hours === null ? '' : `${weekWords(hours.weekly)}, ${hours.timeZone}`;
}
