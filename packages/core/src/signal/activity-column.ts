import { happeningKey } from '../activity/property-test';
import type { Bits } from '../column/bits';
import type { AgedEvents } from '../column/events';
import { HOURS_A_DAY } from '../record/hours';
import type { SignalColumns } from './columns';
import { type Fade, fadedByAge } from './fade';
import { heldTo, toMicro } from './points';
import type { ActivitySignal } from './signal';

/** Adds, or takes away, what an activity signal gives: each event looked up in a table of faded points by age. */
export function addActivities(
  signal: ActivitySignal,
  source: SignalColumns,
  sign: 1 | -1,
  sums: Float64Array,
  touched: Bits,
): void {
  const happening = happeningKey(signal.activity, signal.having);
  const events = source.eventsOf(happening);
  if (events === null) return;
  const { hours, having, oldest } = events;
  const reach = Math.min(oldest + 1, (signal.window ?? Infinity) * HOURS_A_DAY, endOf(signal.fade));
  const table = fadedByAge(sign * toMicro(signal.points), signal.fade, reach);
  if (signal.times === 'first') addFirst(signal.cap, events, table, sums);
  else if (signal.cap !== null) addCapped(signal, signal.cap, events, table, sums);
  else {
    const byAge = reach > oldest ? null : source.eventsByAge(happening, events);
    const young = byAge === null ? hours.length : (byAge.younger[reach] as number);
    if (byAge !== null && young * FEW_YOUNG < hours.length)
      addYoung(signal, events, byAge.order.subarray(0, young), table, sums);
    else addAll(signal, events, table, sums);
  }
  for (let w = 0; w < touched.length; w += 1) touched[w] = (touched[w] as number) | (having[w] as number);
}

/** Up to one in so many activities is young enough to count: then they are looked up by age, else all are gone through. */
const FEW_YOUNG = 4;

/** The age in hours at which nothing is left. */
function endOf(fade: Fade | null): number {
  return fade?.kind === 'end' ? fade.days * HOURS_A_DAY : Infinity;
}

/** Every activity, in the order of records. */
function addAll({ most }: ActivitySignal, events: AgedEvents, table: Float64Array, sums: Float64Array): void {
  const { hours, owner, nth } = events;
  const counted = most ?? Infinity;
  for (let k = 0; k < hours.length; k += 1) {
    const age = hours[k] as number;
    if ((nth[k] as number) >= counted || age >= table.length) continue;
    const record = owner[k] as number;
    sums[record] = (sums[record] as number) + (table[age] as number);
  }
}

/** Only those that are young enough. */
function addYoung(
  { most }: ActivitySignal,
  { hours, owner, nth }: AgedEvents,
  young: Uint32Array,
  table: Float64Array,
  sums: Float64Array,
): void {
  const counted = most ?? Infinity;
  for (let y = 0; y < young.length; y += 1) {
    const k = young[y] as number;
    if ((nth[k] as number) >= counted) continue;
    const record = owner[k] as number;
    sums[record] = (sums[record] as number) + (table[hours[k] as number] as number);
  }
}

/** The oldest of each record, if it is young enough. */
function addFirst(
  cap: number | null,
  { starts, hours, records }: AgedEvents,
  table: Float64Array,
  sums: Float64Array,
): void {
  for (let n = 0; n < records.length; n += 1) {
    const age = hours[(starts[n + 1] as number) - 1] as number;
    if (age >= table.length) continue;
    const record = records[n] as number;
    sums[record] = (sums[record] as number) + heldTo(cap, table[age] as number);
  }
}

/** What each record has by itself is held to the cap. */
function addCapped(
  { most }: ActivitySignal,
  cap: number,
  { starts, hours, records }: AgedEvents,
  table: Float64Array,
  sums: Float64Array,
): void {
  for (let n = 0; n < records.length; n += 1) {
    const first = starts[n] as number;
    const end = Math.min(starts[n + 1] as number, first + (most ?? Infinity));
    let sum = 0;
    for (let k = first; k < end; k += 1) {
      const age = hours[k] as number;
      if (age >= table.length) break;
      sum += table[age] as number;
    }
    const record = records[n] as number;
    sums[record] = (sums[record] as number) + heldTo(cap, sum);
  }
}
