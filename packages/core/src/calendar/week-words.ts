import { type ClockSpan, minutesOfDay, type WeeklySpan } from './work-hours';

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

const ANY_HOUR = 'any hour';
const NO_HOURS = 'no hours';

/** The hours of a week in words, days alike together: `Mon–Fri 08:00-16:00`. */
export function weekWords(weekly: readonly WeeklySpan[] | null): string {
  if (weekly === null) return ANY_HOUR;
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
  return words.length === 0 ? NO_HOURS : words.join('; ');
}

/**
 * Reads the hours of a week in words, as {@link weekWords} writes them; a hyphen stands for a dash too.
 *
 * @returns null: any hour; undefined: they can't be read, or a day stands twice
 * @example readWeekWords('Mon-Tue 9-12, 13-17; Sat 9-12')
 */
export function readWeekWords(text: string): readonly WeeklySpan[] | null | undefined {
  const words = text.trim();
  if (words.toLowerCase() === ANY_HOUR) return null;
  if (words.toLowerCase() === NO_HOURS) return [];
  const weekly = new Map<number, readonly ClockSpan[]>();
  for (const part of words.split(';')) {
    const found = /^\s*([a-z]{3})\s*(?:[-–]\s*([a-z]{3}))?\s+(.+)$/i.exec(part);
    const [first, last] = [dayOfWeek(found?.[1]), dayOfWeek(found?.[2] ?? found?.[1])];
    const spans = readSpans(found?.[3] ?? '');
    if (first === 0 || last < first || spans === null || spans.length === 0) return undefined;
    for (let day = first; day <= last; day += 1) {
      if (weekly.has(day)) return undefined;
      weekly.set(day, spans);
    }
  }
  return [...weekly].sort(([a], [b]) => a - b).flatMap(([day, spans]) => spans.map((span) => ({ day, ...span })));
}

/** 1 for Monday; 0: it is no day. */
function dayOfWeek(text = ''): number {
  return WEEKDAYS.findIndex((day) => day.toLowerCase() === text.toLowerCase()) + 1;
}
