import type { CodeColumn } from '../column/column';
import { type Bits, hasBit } from '../column/bits';
import type { Facts } from '../condition/facts';
import type { Skipped } from '../method/method';
import { copyRota, emptyRota, noteGiven, type Organisation, type Rota } from '../people/people';
import { splitChoices } from '../record/choices';
import type { Instant, QueueKey, RepKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import { type Attempt, type CarriedOut, carryOut } from '../route/carry-out';
import { skillsAsked } from '../route/skills-asked';
import type { Population } from './population';
import type { Resident } from './resident';
import { type Asking, FIRST_ROUTE, NOT_ROUTED, type PlacedRoute, ROUTE_UNJUDGED } from './route-sweep';
import type { Reach, Swept } from './sweep';

/** Where a record is, by itself in `places`; who or which queue it is stands beside it. */
export const PLACES = ['not-handed-over', 'owner', 'queue', 'bay'] as const;
export const NOT_HANDED_OVER = 0;
export const WITH_OWNER = 1;
export const IN_QUEUE = 2;
export const IN_BAY = 3;

/** Where all records come to be. */
export interface Placed {
  readonly places: Uint8Array;
  /** By record, one more than the place of its owner in `reps` or of its queue in `queues`; 0: none. */
  readonly owner: Uint16Array;
  readonly queue: Uint16Array;
  readonly reps: readonly RepKey[];
  readonly queues: readonly QueueKey[];
  /** Turns and loads at the end. */
  readonly rota: Rota;
}

/** Gives records their places, with turns and loads kept as it goes. */
class Placing implements Placed {
  readonly places: Uint8Array;
  readonly owner: Uint16Array;
  readonly queue: Uint16Array;
  readonly reps: readonly RepKey[];
  readonly queues: readonly QueueKey[];
  readonly rota: Rota;
  private readonly repCode: ReadonlyMap<RepKey, number>;
  private readonly queueCode: ReadonlyMap<QueueKey, number>;

  constructor(
    private readonly swept: Swept,
    private readonly population: Population,
    private readonly people: Organisation,
    { places, owner, queue, reps, queues, rota }: Placed,
  ) {
    this.places = places;
    this.owner = owner;
    this.queue = queue;
    this.reps = reps;
    this.queues = queues;
    this.rota = rota;
    this.repCode = new Map(this.reps.map((rep, r) => [rep, r + 1]));
    this.queueCode = new Map(this.queues.map((queue, q) => [queue, q + 1]));
  }

  routeOf(record: number): PlacedRoute | null {
    const outcome = this.swept.outcome[record] as number;
    return outcome < FIRST_ROUTE ? null : (this.swept.routes[outcome - FIRST_ROUTE] ?? null);
  }

  /** Why it waits however many are free, or null: a value that can't be judged, a circle of gates. */
  isHeldUp(record: number): boolean {
    const { scores, loop, gateUnjudged, outcome } = this.swept;
    return (
      hasBit(loop, record) ||
      scores.cell[record] === 0 ||
      hasBit(gateUnjudged, record) ||
      outcome[record] === ROUTE_UNJUDGED
    );
  }

  /** Carries the record's routes out, or sends it to the last resort. */
  place(record: number, at: Instant): Waiting | null {
    const attempts = this.attempts(record);
    if (attempts === null) {
      this.settle(record, { kind: 'queue', queue: this.swept.charter.charter.lastResort.lead });
      return null;
    }
    const id = String(this.population.ids[record]);
    const { place, turn, skipped } = carryOut(attempts, { record: id, at }, this.people, this.rota);
    if (turn?.after) this.rota.turns.set(turn.route, turn.after);
    if (place.kind === 'owner') this.carry(place.rep, 1, at);
    this.settle(record, place);
    if (place.kind !== 'bay' || place.reason.why !== 'nobody-free') return null;
    return this.waitsFor(attempts, skipped);
  }

  /** Whom a record waits for. Whoever is full is not waited for by the clock: a closing frees them, at whatever hour. */
  private waitsFor(attempts: readonly Attempt[], skipped: readonly Skipped[]): Waiting {
    const byLimits = attempts.every(
      ({ route, nobodyFree }) => route.respects?.limit !== false && nobodyFree.kind !== 'ignore-limits',
    );
    let begins: Instant | null = null;
    const reps: RepKey[] = [];
    for (const { rep, exclusion } of skipped) {
      if (exclusion.why !== 'lacks-skill') reps.push(rep);
      if (exclusion.why === 'outside-hours' && exclusion.next !== null && (!byLimits || this.hasRoom(rep)))
        begins = Math.min(begins ?? Infinity, exclusion.next);
    }
    return { reps, begins };
  }

  /** Lets a record wait in the bay. */
  wait(record: number): void {
    this.owner[record] = 0;
    this.queue[record] = 0;
    this.places[record] = IN_BAY;
  }

  /** Whether a rep is below their limit. */
  hasRoom(rep: RepKey): boolean {
    const limit = this.people.reps.get(rep)?.limit ?? null;
    return limit === null || (this.rota.loads.get(rep) ?? 0) < limit;
  }

  /** The routes of a record and the skills it asks for, as text: the same for records that wait for the same. */
  alike(record: number): string {
    const first = this.routeOf(record);
    if (first === null || ((first.skills ?? []).length === 0 && first.nobodyFree.kind !== 'next-route'))
      return first?.key ?? '';
    return (this.attempts(record) ?? [])
      .map(({ route, skills }) => `${route.key}:${skills.map(({ words }) => words?.join() ?? '?').join(';')}`)
      .join('|');
  }

  /** The routes that are tried for a record, in order; null: none takes it. */
  private attempts(record: number): readonly [Attempt, ...Attempt[]] | null {
    const first = this.routeOf(record);
    if (first === null) return null;
    const attempts: [Attempt, ...Attempt[]] = [this.attempt(record, first)];
    const { asking, outcome, routes } = this.swept;
    let goesOn = first.nobodyFree.kind === 'next-route';
    const start = goesOn ? (asking ?? []).findIndex((one) => one.outcome === outcome[record]) : 0;
    for (let a = start + 1; goesOn && a < (asking ?? []).length; a += 1) {
      const { outcome: of, yes, unjudged } = (asking as readonly Asking[])[a] as Asking;
      if (hasBit(unjudged, record)) break;
      const route = of === NOT_ROUTED || !hasBit(yes, record) ? undefined : routes[of - FIRST_ROUTE];
      if (route === undefined) continue;
      attempts.push(this.attempt(record, route));
      goesOn = route.nobodyFree.kind === 'next-route';
    }
    return attempts;
  }

  private attempt(record: number, route: PlacedRoute): Attempt {
    return { route, nobodyFree: route.nobodyFree, skills: skillsAsked(route, this.valuesOf(record)) };
  }

  /** The texts of a record, as its gates leave them. */
  private valuesOf(record: number): Pick<Facts, 'value'> {
    return {
      value: (field) => {
        const given = this.swept.changes.givenTo(record, field);
        if (given !== null) return given;
        const column = this.population.columns.get(field);
        return column?.kind === 'codes' ? valueIn(column, record) : BLANK;
      },
    };
  }

  private settle(record: number, place: CarriedOut['place']): void {
    this.owner[record] = place.kind === 'owner' ? (this.repCode.get(place.rep) ?? 0) : 0;
    this.queue[record] = place.kind === 'queue' ? (this.queueCode.get(place.queue) ?? 0) : 0;
    this.places[record] = place.kind === 'nobody' ? NOT_HANDED_OVER : PLACES.indexOf(place.kind);
  }

  carry(rep: RepKey, by: 1 | -1, at: Instant): void {
    this.rota.loads.set(rep, (this.rota.loads.get(rep) ?? 0) + by);
    if (by > 0) noteGiven(this.rota, rep, at);
  }
}

/** Nobody is handed over, and nobody carries anything. */
function placesOfNone(size: number, { reps, queues }: Organisation): Placed {
  return {
    places: new Uint8Array(size),
    owner: new Uint16Array(size),
    queue: new Uint16Array(size),
    reps: [...reps.keys()],
    queues: [...queues.keys()],
    rota: emptyRota(),
  };
}

/** What a record waits for. */
interface Waiting {
  /** Those who were not free, other than for lack of a skill. */
  readonly reps: readonly RepKey[];
  /** When the first of them works again; null: none is waited for by the clock. */
  readonly begins: Instant | null;
}

/** The value of a record in a column of texts. */
function valueIn({ codes, dictionary, unreadable }: CodeColumn, record: number): Value {
  const code = codes[record] as number;
  if (code === 0) return unreadable !== null && hasBit(unreadable, record) ? UNREADABLE : BLANK;
  const folded = dictionary[code - 1] as string;
  // Several at once stand between separators: `;pumps;sensors;`.
  if (folded.startsWith(';')) return { kind: 'choices', folded, texts: splitChoices(folded) };
  return { kind: 'text', text: folded, folded };
}

const UNREADABLE: Value = { kind: 'unreadable', raw: '', why: '' };

/**
 * Gives all records of a sweep read as *came in* their places, one after the other: arrivals and closings in the order of
 * time and ids, with no turns and no loads at the beginning, each at its own hour.
 *
 * The same as `decide` called in that order: when a closing frees someone, or someone's hours begin, those who wait are tried, the oldest first. Hours that
 * begin at the moment of an arrival come before it. A record that is closed while it waits leaves the bay for nobody.
 */
export function replay(swept: Swept, resident: Resident, people: Organisation): Placed {
  const { population } = resident;
  const placing = new Placing(swept, population, people, placesOfNone(population.size, people));
  const { places, owner, reps } = placing;
  const waiting = new WaitingLines(placing);

  resident.timeline().forEach((entry) => {
    const record = entry >>> 1;
    const closes = (entry & 1) === 1;
    const at = (closes ? population.closed : population.arrived)[record] as number;
    waiting.passTime(at);
    if (closes) {
      if (places[record] === IN_BAY) places[record] = NOT_HANDED_OVER;
      if (places[record] !== WITH_OWNER || !hasBit(swept.open, record)) return;
      const rep = reps[(owner[record] as number) - 1] as RepKey;
      placing.carry(rep, -1, at);
      waiting.tryFor(rep, at);
      return;
    }
    if (!hasBit(swept.open, record)) return;
    if (placing.isHeldUp(record)) places[record] = IN_BAY;
    else if (swept.outcome[record] !== NOT_ROUTED) waiting.arrive(record, at);
  });
  waiting.passTime(resident.asOf);
  return placing;
}

/** Records that wait for the same: when one of them can't be placed, none of them can. */
interface Group {
  readonly records: { readonly record: number; readonly rank: number }[];
  first: number;
  /** What came of the last try. */
  waits: Waiting;
}

/** Records that wait for someone free, by what they wait for and in order of arrival; and the hours that begin. */
class WaitingLines {
  private readonly groups = new Map<string, Group>();
  /** When the next of those waited for works again. */
  private next: Instant = Infinity;
  private arrived = 0;

  constructor(private readonly placing: Placing) {}

  /** Places a record that comes in; where nobody is free, it waits. */
  arrive(record: number, at: Instant): void {
    const alike = this.placing.alike(record);
    const known = this.groups.get(alike);
    // Whatever frees someone lets those who wait go at once: while one waits, the next like it does too.
    const waits = known !== undefined && this.headOf(known) !== null ? known.waits : this.placing.place(record, at);
    if (waits === null) return;
    this.placing.wait(record);
    const group = known ?? { records: [], first: 0, waits };
    this.groups.set(alike, group);
    group.records.push({ record, rank: this.arrived });
    this.arrived += 1;
    this.noteWaiting(group, waits);
  }

  /** Tries those who wait for a rep, the oldest first. */
  tryFor(rep: RepKey, at: Instant): void {
    this.tryAll(
      ({ waits }) => waits.reps.includes(rep),
      at,
      () => this.placing.hasRoom(rep),
    );
  }

  /** Tries those who wait each time that hours begin, up to and with an instant. */
  passTime(until: Instant): void {
    while (this.next <= until) {
      const at = this.next;
      this.next = Infinity;
      const begins = ({ waits }: Group): boolean => waits.begins !== null && waits.begins <= at;
      for (const group of this.groups.values())
        if (!begins(group) && this.headOf(group) !== null) this.noteWaiting(group, group.waits);
      this.tryAll(begins, at);
    }
  }

  /** @param goesOn whether there is still someone for whom those who wait are tried */
  private tryAll(concerned: (group: Group) => boolean, at: Instant, goesOn = (): boolean => true): void {
    const left = new Set([...this.groups.values()].filter(concerned));
    while (goesOn()) {
      let oldest: { readonly group: Group; readonly record: number; readonly rank: number } | null = null;
      for (const group of left) {
        const head = this.headOf(group);
        if (head === null) left.delete(group);
        else if (oldest === null || head.rank < oldest.rank) oldest = { group, ...head };
      }
      if (oldest === null) return;
      const waits = this.placing.place(oldest.record, at);
      if (waits === null) oldest.group.first += 1;
      else {
        // Who is placed meanwhile frees nobody.
        left.delete(oldest.group);
        this.noteWaiting(oldest.group, waits);
      }
    }
  }

  private noteWaiting(group: Group, waits: Waiting): void {
    group.waits = waits;
    this.next = Math.min(this.next, waits.begins ?? Infinity);
  }

  /** The one that waits longest, past those that were closed meanwhile; null: nobody waits any more. */
  private headOf(group: Group): Group['records'][number] | null {
    const { records } = group;
    for (; group.first < records.length; group.first += 1) {
      const head = records[group.first];
      if (head !== undefined && this.placing.places[head.record] === IN_BAY) return head;
    }
    return null;
  }
}

/** The places of all records as they are stored, with turns and loads as they are. */
export function placesStored({ size, standing }: Population, people: Organisation, rota: Rota): Placed {
  const placed = placesOfNone(size, people);
  const { reps, queues } = placed;
  const repCode = new Map<string, number>(reps.map((rep, r) => [rep, r + 1]));
  const queueCode = new Map<string, number>(queues.map((queue, q) => [queue, q + 1]));
  const keyOf = (code: number): string => standing.keys[code - 1] ?? '';
  for (let i = 0; i < size; i += 1) {
    const [owner, queue] = [standing.owner[i] as number, standing.queue[i] as number];
    if (owner !== 0) {
      placed.places[i] = WITH_OWNER;
      placed.owner[i] = repCode.get(keyOf(owner)) ?? 0;
    } else if (queue !== 0) {
      placed.places[i] = IN_QUEUE;
      placed.queue[i] = queueCode.get(keyOf(queue)) ?? 0;
    } else placed.places[i] = hasBit(standing.inBay, i) ? IN_BAY : NOT_HANDED_OVER;
  }
  return { ...placed, rota: copyRota(rota) };
}

/**
 * Gives the chosen records of a sweep read *on enact* their places, in the order of ids, beginning with the turns and loads
 * as they are. The others stay where they are.
 *
 * The same as `decide` on the occasion that the reach stands for. Whom that frees in the bay follows a moment later.
 */
export function placeOnEnact(
  swept: Swept,
  population: Population,
  people: Organisation,
  rota: Rota,
  chosen: Bits,
  reach: Reach,
  asOf: Instant,
): Placed {
  const placing = new Placing(swept, population, people, placesStored(population, people, rota));
  const { standing } = population;
  for (let i = 0; i < population.size; i += 1) {
    const rep = standing.owner[i] === 0 ? null : (standing.keys[(standing.owner[i] as number) - 1] as RepKey);
    const queue = standing.queue[i] as number;
    if (!hasBit(chosen, i)) continue;

    const open = hasBit(swept.open, i);
    if (rep !== null) {
      if (!open && hasBit(standing.open, i)) placing.carry(rep, -1, asOf);
    } else if (!open) {
      placing.places[i] = NOT_HANDED_OVER;
      placing.queue[i] = 0;
    } else if (swept.outcome[i] === NOT_ROUTED && queue !== 0) continue;
    else if (placing.isHeldUp(i)) {
      placing.places[i] = IN_BAY;
      placing.queue[i] = 0;
    } else if (swept.outcome[i] === NOT_ROUTED) {
      if (reach === 'routes') placing.places[i] = NOT_HANDED_OVER;
    } else placing.place(i, asOf);
  }
  return placing;
}
