import type { Organisation, Rota } from '../people/people';
import type { QueueKey, RepKey } from '../record/keys';
import { choose } from '../route/choose';
import { type Bits, hasBit } from '../column/bits';
import type { Population } from './population';
import type { Resident } from './resident';
import { FIRST_ROUTE, NOT_ROUTED, type PlacedRoute, ROUTE_UNJUDGED } from './route-sweep';
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

  /** Carries the record's route out, or sends it to the last resort; false when it has to wait. */
  place(record: number): boolean {
    const route = this.routeOf(record);
    if (route === null)
      return this.settle(record, { kind: 'queue', queue: this.swept.charter.charter.lastResort.lead });
    const { place, turn } = choose(route.key, route.to, this.people, this.rota);
    if (turn !== null) this.rota.turns.set(route.key, turn);
    if (place.kind === 'owner') this.carry(place.rep, 1);
    return this.settle(record, place);
  }

  private settle(record: number, place: ReturnType<typeof choose>['place']): boolean {
    this.owner[record] = place.kind === 'owner' ? (this.repCode.get(place.rep) ?? 0) : 0;
    this.queue[record] = place.kind === 'queue' ? (this.queueCode.get(place.queue) ?? 0) : 0;
    this.places[record] = PLACES.indexOf(place.kind);
    return place.kind !== 'bay';
  }

  carry(rep: RepKey, by: 1 | -1): void {
    this.rota.loads.set(rep, (this.rota.loads.get(rep) ?? 0) + by);
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
    rota: { loads: new Map(), turns: new Map() },
  };
}

/** Who waits for one route, in order of arrival. */
interface Waiting {
  readonly route: PlacedRoute;
  readonly records: number[];
  first: number;
}

function involves({ to }: PlacedRoute, rep: RepKey, people: Organisation): boolean {
  switch (to.kind) {
    case 'rep':
      return to.rep === rep;
    case 'team':
      return people.teams.get(to.team)?.members.includes(rep) ?? false;
    case 'queue':
      return false;
  }
}

/**
 * Gives all records of a sweep read as *came in* their places, one after the other: arrivals and closings in the order of
 * time and ids, with no turns and no loads at the beginning.
 *
 * The same as `decide` called in that order; when a closing frees someone, the oldest that waits for them leaves the bay. A
 * record that is closed while it waits leaves the bay for nobody.
 */
export function replay(swept: Swept, resident: Resident, people: Organisation): Placed {
  const placing = new Placing(swept, people, placesOfNone(resident.population.size, people));
  const { places, owner, reps } = placing;
  const arrivalRank = new Uint32Array(resident.population.size);
  const waiting = new Map<string, Waiting>();

  function wait(record: number, route: PlacedRoute): void {
    const line = waiting.get(route.key) ?? { route, records: [], first: 0 };
    waiting.set(route.key, line);
    line.records.push(record);
  }

  function heads(rep: RepKey): Waiting[] {
    return [...waiting.values()].filter((line) => {
      while (line.first < line.records.length && places[line.records[line.first] as number] !== IN_BAY) line.first += 1;
      return line.first < line.records.length && involves(line.route, rep, people);
    });
  }

  function free(rep: RepKey): void {
    for (;;) {
      const next = heads(rep).sort(
        (a, b) =>
          (arrivalRank[a.records[a.first] as number] as number) - (arrivalRank[b.records[b.first] as number] as number),
      )[0];
      if (next === undefined || !placing.place(next.records[next.first] as number)) return;
      next.first += 1;
    }
  }

  resident.timeline().forEach((entry, rank) => {
    const record = entry >>> 1;
    if ((entry & 1) === 1) {
      if (places[record] === IN_BAY) places[record] = NOT_HANDED_OVER;
      if (places[record] !== WITH_OWNER || !hasBit(swept.open, record)) return;
      const rep = reps[(owner[record] as number) - 1] as RepKey;
      placing.carry(rep, -1);
      free(rep);
      return;
    }
    arrivalRank[record] = rank;
    if (!hasBit(swept.open, record)) return;
    if (placing.isHeldUp(record)) places[record] = IN_BAY;
    else if (swept.outcome[record] !== NOT_ROUTED && !placing.place(record)) {
      const route = placing.routeOf(record);
      if (route !== null) wait(record, route);
    }
  });
  return placing;
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
  return { ...placed, rota: { loads: new Map(rota.loads), turns: new Map(rota.turns) } };
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
): Placed {
  const placing = new Placing(swept, people, placesStored(population, people, rota));
  const { standing } = population;
  for (let i = 0; i < population.size; i += 1) {
    const rep = standing.owner[i] === 0 ? null : (standing.keys[(standing.owner[i] as number) - 1] as RepKey);
    const queue = standing.queue[i] as number;
    if (!hasBit(chosen, i)) continue;

    const open = hasBit(swept.open, i);
    if (rep !== null) {
      if (!open && hasBit(standing.open, i)) placing.carry(rep, -1);
    } else if (!open) {
      placing.places[i] = NOT_HANDED_OVER;
      placing.queue[i] = 0;
    } else if (swept.outcome[i] === NOT_ROUTED && queue !== 0) continue;
    else if (placing.isHeldUp(i)) {
      placing.places[i] = IN_BAY;
      placing.queue[i] = 0;
    } else if (swept.outcome[i] === NOT_ROUTED) {
      if (reach === 'routes') placing.places[i] = NOT_HANDED_OVER;
    } else placing.place(i);
  }
  return placing;
}
