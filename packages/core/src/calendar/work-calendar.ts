import { dayNumber } from '../record/day';
import type { Day, Instant } from '../record/keys';
import { offsetPieces } from './zone-offsets';
import { type ClockSpan, DAY_MINUTES, type DaysOff, minutesOfDay, type WorkHours } from './work-hours';

const MINUTE = 60_000;
const DAY = 86_400_000;
/** Working time is laid out a block at a time. */
const BLOCK = 32 * DAY;
/** How far a search looks ahead: nobody is off for longer. */
const HORIZON = 3 * 366 * DAY;

/** Minutes of the local day, `[from, to)`. */
interface DaySpan {
  readonly from: number;
  readonly to: number;
}

/** A stretch of time that is worked, or is not: then `next` is when work begins again; null: not in sight. */
interface Seen extends Stretch {
  readonly working: boolean;
  readonly next: Instant | null;
}

/** A stretch of time `[from, to)`. */
export interface Stretch {
  readonly from: Instant;
  readonly to: Instant;
}

/**
 * The working time of someone: weekly hours without public holidays and days off.
 *
 * An instant is working time when the local clock shows an hour that is worked. So the hour that a clock shows twice counts twice,
 * and the one that it leaves out not at all; minutes are those that pass. All stretches are half-open.
 */
export class WorkCalendar {
  private readonly blocks = new Map<number, readonly Stretch[]>();
  private readonly holidays: ReadonlySet<number>;
  private readonly daysOff: readonly { readonly first: number; readonly last: number; readonly part: DaySpan | null }[];
  private readonly weekly: readonly (readonly DaySpan[])[] | null;
  /** Whether all time is working time. */
  private readonly always: boolean;
  /** Cache: the stretch of the last instant asked about. Records mostly come in order of time. */
  private seen: Seen = { from: 0, to: 0, working: false, next: null };

  constructor(
    private readonly hours: WorkHours,
    daysOff: readonly DaysOff[] = [],
    holidays: readonly Day[] = [],
  ) {
    this.daysOff = daysOff.map(({ from, to, hours: part }) => ({
      ...{ first: dayNumber(from), last: dayNumber(to) },
      part: part === null ? null : inMinutes(part),
    }));
    this.holidays = new Set(holidays.map(dayNumber));
    const { weekly } = hours;
    this.weekly =
      weekly === null
        ? null
        : [1, 2, 3, 4, 5, 6, 7].map((day) => weekly.filter((span) => span.day === day).map(inMinutes));
    this.always = weekly === null && daysOff.length === 0 && holidays.length === 0;
  }

  isWorking(at: Instant): boolean {
    if (this.always) return true;
    const { seen } = this;
    if (at < seen.from || at >= seen.to) this.seen = this.lookAt(at);
    return this.seen.working;
  }

  /** The first instant of working time at or after another; null: none within three years. */
  nextStart(at: Instant): Instant | null {
    if (this.isWorking(at)) return at;
    return this.seen.next;
  }

  /**
   * The instant at which so many minutes have been worked since another: 0 is that instant itself.
   *
   * @returns null: not within three years
   */
  after(at: Instant, minutes: number): Instant | null {
    let left = minutes * MINUTE;
    if (left <= 0) return at;
    if (this.always) return at + left;
    for (const { from, to } of this.onwards(at)) {
      if (to - from >= left) return from + left;
      left -= to - from;
    }
    return null;
  }

  /** The minutes worked in `[from, to)`; 0 where `to` is not after `from`. */
  minutesBetween(from: Instant, to: Instant): number {
    return this.stretches(from, to).reduce((sum, one) => sum + one.to - one.from, 0) / MINUTE;
  }

  /** Working time within `[from, to)`, in order, each stretch as long as it goes there. */
  stretches(from: Instant, to: Instant): Stretch[] {
    if (to <= from) return [];
    if (this.always) return [{ from, to }];
    const found: Stretch[] = [];
    for (let block = Math.floor(from / BLOCK); block * BLOCK < to; block += 1)
      for (const one of this.block(block)) {
        const [start, end] = [Math.max(one.from, from), Math.min(one.to, to)];
        if (start < end) join(found, { from: start, to: end });
      }
    return found;
  }

  /** The stretches of working time from an instant on, within the horizon; one may be told in two parts that touch. */
  private *onwards(at: Instant): Generator<Stretch> {
    for (let block = Math.floor(at / BLOCK); block * BLOCK < at + HORIZON; block += 1)
      for (const { from, to } of this.block(block)) if (to > at) yield { from: Math.max(from, at), to };
  }

  private lookAt(at: Instant): Seen {
    const number = Math.floor(at / BLOCK);
    let from = number * BLOCK;
    const to = (number + 1) * BLOCK;
    for (const one of this.block(number)) {
      if (one.to <= at) {
        from = one.to;
        continue;
      }
      if (one.from <= at) return { ...one, working: true, next: null };
      return { from, to: one.from, working: false, next: one.from };
    }
    // It begins again in a later block, if at all.
    for (const next of this.onwards(to)) return { from, to, working: false, next: next.from };
    return { from, to, working: false, next: null };
  }

  private block(number: number): readonly Stretch[] {
    const known = this.blocks.get(number);
    if (known !== undefined) return known;
    const found: Stretch[] = [];
    for (const { from, to, offset } of offsetPieces(this.hours.timeZone, number * BLOCK, (number + 1) * BLOCK)) {
      const last = Math.floor((to - 1 + offset) / DAY);
      for (let day = Math.floor((from + offset) / DAY); day <= last; day += 1)
        for (const span of this.workedOn(day)) {
          const midnight = day * DAY - offset;
          const start = Math.max(midnight + span.from * MINUTE, from);
          const end = Math.min(midnight + span.to * MINUTE, to);
          if (start < end) join(found, { from: start, to: end });
        }
    }
    this.blocks.set(number, found);
    return found;
  }

  /** The working hours of a local day, in order. */
  private workedOn(day: number): readonly DaySpan[] {
    if (this.holidays.has(day)) return [];
    const usual =
      this.weekly === null ? [{ from: 0, to: DAY_MINUTES }] : (this.weekly[(((day + 3) % 7) + 7) % 7] ?? []);
    const off = this.daysOff.filter(({ first, last }) => first <= day && day <= last);
    return off
      .reduce<readonly DaySpan[]>((left, { part }) => left.flatMap((span) => without(span, part)), usual)
      .toSorted((a, b) => a.from - b.from);
  }
}

function inMinutes({ from, to }: ClockSpan): DaySpan {
  return { from: minutesOfDay(from) ?? 0, to: minutesOfDay(to) ?? 0 };
}

/** Subtracts time off from a span; null: the whole day is off. */
function without(span: DaySpan, off: DaySpan | null): DaySpan[] {
  if (off === null) return [];
  return [
    { from: span.from, to: Math.min(span.to, off.from) },
    { from: Math.max(span.from, off.to), to: span.to },
  ].filter(({ from, to }) => from < to);
}

/** Adds a stretch that begins no earlier than the last; one that touches or overlaps it makes it longer. */
function join(stretches: Stretch[], next: Stretch): void {
  const last = stretches.at(-1);
  if (last !== undefined && next.from <= last.to)
    stretches[stretches.length - 1] = { from: last.from, to: Math.max(last.to, next.to) };
  else stretches.push(next);
}
