import { type Facts, NO_FACTS } from '../condition/facts';
import { judgeTest } from '../condition/judge';
import type { ReadyCondition, ReadyTest } from '../condition/ready';
import { dayNumber, dayOf } from '../record/day';
import { daysBefore } from '../record/stage-days';
import type { Instant } from '../record/keys';
import { choicesOf } from '../record/choices';
import { type Organisation, teamsOf } from '../people/people';
import type { Rates } from '../record/money';
import type { Value } from '../record/value';
import { type ActivityKinds, isByThem } from '../activity/activity-kind';
import { type Happening, happeningText } from '../activity/happened';
import { happeningKey, isKindAlone } from '../activity/property-test';
import { ageInHours, HOURS_A_DAY } from '../record/hours';
import { allBits, type Bits, noBits } from '../column/bits';
import { NumberColumn } from '../column/column';
import { type AgedEvents, ageEvents, type EventsByAge, sortByAge } from '../column/events';
import type { Mask } from '../column/mask';
import { testKey, type Population } from './population';
import { answerFrom, type ColumnSource, isSwept } from './subject-columns';
import { TerritoryColumns } from './territory-columns';

/** So many answers are kept; while one types, the oldest of those that nobody asks for any more give way. */
const KEPT_ANSWERS = 600;

/** A population at one instant, with what was once computed of it kept for every charter that is swept over it. */
export class Resident {
  readonly everyone: Bits;
  private readonly answers = new Map<string, Mask>();
  private readonly aged = new Map<string, AgedEvents>();
  private readonly byAge = new Map<string, EventsByAge>();
  private readonly made = new Map<string, NumberColumn>();
  /** By number of days: the calendar is asked many times for each. */
  private readonly daysPassed = new Map<number, Instant>();
  readonly territories = new TerritoryColumns();
  private silent: Uint32Array | null = null;
  private order: Uint32Array | null = null;
  private readonly columns: ColumnSource;

  /**
   * @param setting of the charter: its time zone decides which day it is at `asOf`, amounts are compared in its base currency
   * @param world its kinds say whose activities break silence, its teams who belongs to which
   */
  constructor(
    readonly population: Population,
    readonly asOf: Instant,
    private readonly setting: { readonly timeZone: string; readonly baseCurrency: string },
    private readonly world: {
      readonly kinds: ActivityKinds;
      readonly rates: Rates;
      readonly teams: Organisation['teams'];
    },
  ) {
    this.everyone = allBits(population.size);
    this.columns = {
      everyone: this.everyone,
      timeZone: setting.timeZone,
      way: population.way,
      today: dayNumber(dayOf(asOf, setting.timeZone)),
      column: (field) => population.columns.get(field) ?? null,
      inBase: (field, column) => this.kept(`base ${field}`, () => column.inBase(world.rates, setting.baseCurrency)),
      asEntered: (field, column) => this.kept(`entered ${field}`, () => column.asEntered()),
      instants: (of) => this.instants(of),
      counted: (happening) => this.kept(`happened ${happeningText(happening)}`, () => this.counted(happening)),
    };
  }

  get timeZone(): string {
    return this.setting.timeZone;
  }

  /** Forgets every answer, but none of the indexes: what a sweep of a charter never seen before would find. */
  forget(): void {
    this.answers.clear();
  }

  /** The latest instant from which so many whole days have passed by now. */
  daysBefore(days: number): Instant {
    const known = this.daysPassed.get(days);
    if (known !== undefined) return known;
    const instant = daysBefore(this.asOf, days, this.timeZone);
    this.daysPassed.set(days, instant);
    return instant;
  }

  /** The teams of an owner, as a folded combination. */
  teamsOf(owner: string): string {
    return choicesOf(teamsOf(owner, this.world.teams)).folded;
  }

  /** A column that is made of others when first asked for. */
  private kept(name: string, make: () => NumberColumn): NumberColumn {
    const known = this.made.get(name);
    if (known !== undefined) return known;
    const column = make();
    this.made.set(name, column);
    return column;
  }

  /** Instants of arrivals, of what they last did, and of the entry into the stage where each is stored. */
  instants(of: 'arrived' | 'last-activity' | 'entered'): NumberColumn {
    return this.kept(of, () => {
      switch (of) {
        case 'arrived':
          return new NumberColumn(this.population.arrived, null);
        case 'last-activity':
          return new NumberColumn(this.lastByThem(), null);
        case 'entered':
          return new NumberColumn(this.enteredAt(), null);
      }
    });
  }

  private enteredAt(): Float64Array {
    const { arrived, standing } = this.population;
    return standing.stageSince.map((at, i) => (Number.isNaN(at) ? (arrived[i] as number) : at));
  }

  private lastByThem(): Float64Array {
    const { size, events } = this.population;
    const last = new Float64Array(size).fill(NaN);
    for (const [kind, { starts, at }] of events) {
      if (!isKindAlone(kind) || !isByThem(this.world.kinds, kind)) continue;
      for (let i = 0; i < size; i += 1)
        for (let k = starts[i] as number; k < (starts[i + 1] as number); k += 1) {
          const instant = at[k] as number;
          if (instant > this.asOf) continue;
          // Newest first.
          if (!(instant <= (last[i] as number))) last[i] = instant;
          break;
        }
    }
    return last;
  }

  private counted({ activity, having, within }: Happening): NumberColumn {
    const counts = new Float64Array(this.population.size);
    const events = this.eventsOf(happeningKey(activity, having));
    if (events === null) return new NumberColumn(counts, null);
    const { owner, hours } = events;
    const reach = within === null ? Infinity : within * HOURS_A_DAY;
    for (let k = 0; k < hours.length; k += 1) {
      const record = owner[k] as number;
      if ((hours[k] as number) < reach) counts[record] = (counts[record] as number) + 1;
    }
    return new NumberColumn(counts, null);
  }

  eventsOf(kind: string): AgedEvents | null {
    const events = this.population.events.get(kind);
    if (events === undefined) return null;
    let aged = this.aged.get(kind);
    if (aged === undefined) {
      aged = ageEvents(events, this.asOf);
      this.aged.set(kind, aged);
    }
    return aged;
  }

  /** The same from the youngest to the oldest; made when a window, or an end, first asks for the young ones alone. */
  eventsByAge(kind: string, events: AgedEvents): EventsByAge {
    let sorted = this.byAge.get(kind);
    if (sorted === undefined) {
      sorted = sortByAge(events);
      this.byAge.set(kind, sorted);
    }
    return sorted;
  }

  /** For how many whole hours each record has been silent. */
  silentHours(): Uint32Array {
    if (this.silent !== null) return this.silent;
    const { size, arrived } = this.population;
    const last = this.instants('last-activity').values;
    const hours = new Uint32Array(size);
    for (let i = 0; i < size; i += 1) {
      const since = last[i] as number;
      // Without anything they did, silence runs from their arrival.
      hours[i] = Math.max(0, ageInHours(Number.isNaN(since) ? (arrived[i] as number) : since, this.asOf));
    }
    this.silent = hours;
    return hours;
  }

  /**
   * Arrivals and closings in the order of time, then of ids, an arrival before a closing: twice the record's place for its
   * arrival, one more for its closing.
   */
  timeline(): Uint32Array {
    if (this.order !== null) return this.order;
    const { size, arrived, closed } = this.population;
    const timeOf = (entry: number): number => ((entry & 1) === 0 ? arrived : closed)[entry >>> 1] as number;
    const entries: number[] = [];
    for (let i = 0; i < size; i += 1) {
      entries.push(2 * i);
      if (!Number.isNaN(closed[i])) entries.push(2 * i + 1);
    }
    this.order = Uint32Array.from(entries.sort((a, b) => timeOf(a) - timeOf(b) || a - b));
    return this.order;
  }

  /** What a condition that reads fields alone says of every record. */
  answerTo(condition: ReadyCondition): Mask {
    const key = keyOf(condition);
    const known = this.answers.get(key);
    const answer = known ?? this.compute(condition);
    // Set anew, so that the map's order is from the longest unused to the newest.
    this.answers.delete(key);
    this.answers.set(key, answer);
    if (this.answers.size > KEPT_ANSWERS) this.answers.delete(this.answers.keys().next().value as string);
    return answer;
  }

  private compute(condition: ReadyCondition): Mask {
    switch (condition.kind) {
      case 'all':
      case 'any':
        return this.combine(
          condition.kind,
          condition.of.map((part) => this.answerTo(part)),
        );
      case 'not':
        return this.opposite(this.answerTo(condition.of));
      default:
        return this.test(condition);
    }
  }

  /** The answer of a test on a field for one constant value, as a mask over all records. */
  answerFor(test: ReadyTest, value: Value): Mask {
    const { asOf, setting, world } = this;
    const facts: Facts = {
      ...NO_FACTS,
      value: () => value,
      inBase: (amount) => world.rates.toBase(amount, setting.baseCurrency),
      ...{ asOf, timeZone: setting.timeZone, today: () => this.columns.today },
    };
    const nobody = noBits(this.population.size);
    switch (judgeTest(test, facts)) {
      case 'yes':
        return { yes: this.everyone, unjudged: null };
      case 'no':
        return { yes: nobody, unjudged: null };
      case 'unjudged':
        return { yes: nobody, unjudged: this.everyone };
    }
  }

  /** Where a mask neither holds nor is open. */
  opposite({ yes, unjudged }: Mask): Mask {
    const { everyone } = this;
    const opposite = new Uint32Array(yes.length);
    if (unjudged === null) for (let w = 0; w < opposite.length; w += 1) opposite[w] = ~(yes[w] as number);
    else for (let w = 0; w < opposite.length; w += 1) opposite[w] = ~((yes[w] as number) | (unjudged[w] as number));
    const last = opposite.length - 1;
    if (last >= 0) opposite[last] = (opposite[last] as number) & (everyone[last] as number);
    return { yes: opposite, unjudged };
  }

  /** All: "no" unless each holds or is open. Any: "yes" where one holds. */
  combine(kind: 'all' | 'any', masks: readonly Mask[]): Mask {
    const [first, ...others] = masks;
    if (first === undefined)
      return { yes: kind === 'all' ? this.everyone : noBits(this.population.size), unjudged: null };
    const join = kind === 'all' ? intersect : unite;
    const yes = first.yes.slice();
    for (const mask of others) join(yes, mask.yes);
    if (masks.every((mask) => mask.unjudged === null)) return { yes, unjudged: null };
    // What holds or can't be judged, joined alike, is open where it does not hold for sure.
    const open = first.yes.slice();
    if (first.unjudged !== null) unite(open, first.unjudged);
    for (const mask of others) {
      if (mask.unjudged === null) join(open, mask.yes);
      else {
        const may = mask.yes.slice();
        unite(may, mask.unjudged);
        join(open, may);
      }
    }
    for (let w = 0; w < open.length; w += 1) open[w] = (open[w] as number) & ~(yes[w] as number);
    return { yes, unjudged: open };
  }

  private test(test: ReadyTest): Mask {
    const given = this.population.given.get(testKey(test.source));
    if (given !== undefined) return given;
    const { subject } = test;
    if (isSwept(subject)) throw new Error(`Only a sweep tells the ${subject.kind}`);
    return answerFrom({ ...test, subject }, this.columns);
  }
}

function intersect(into: Bits, bits: Bits): void {
  for (let w = 0; w < into.length; w += 1) into[w] = (into[w] as number) & (bits[w] as number);
}

function unite(into: Bits, bits: Bits): void {
  for (let w = 0; w < into.length; w += 1) into[w] = (into[w] as number) | (bits[w] as number);
}

/** A condition as a text that tells it apart from every other one over the same fields. */
function keyOf(condition: ReadyCondition): string {
  switch (condition.kind) {
    case 'all':
    case 'any':
      return `${condition.kind}(${condition.of.map(keyOf).join(',')})`;
    case 'not':
      return `not(${keyOf(condition.of)})`;
    default:
      return JSON.stringify(condition.source);
  }
}
