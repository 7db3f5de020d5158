import type { CodeColumn } from '../column/column';
import { hasBit } from '../column/bits';
import type { Facts } from '../condition/facts';
import type { Skipped } from '../method/method';
import { noteGiven, type Organisation, type Rota } from '../people/people';
import { splitChoices } from '../record/choices';
import type { Instant, QueueKey, RepKey } from '../record/keys';
import { BLANK, type Value } from '../record/value';
import { type Attempt, type CarriedOut, carryOut } from '../route/carry-out';
import { COMPANY_OWNER, leadingTo } from '../route/company-owner';
import { skillsAsked } from '../route/skills-asked';
import { IN_BAY, NOT_HANDED_OVER, type Placed, PLACES } from './placed';
import type { Population } from './population';
import { type Asking, FIRST_ROUTE, NOT_ROUTED, type PlacedRoute, ROUTE_UNJUDGED } from './route-sweep';
import type { Swept } from './sweep';

export type Attempts = readonly [Attempt, ...Attempt[]];

/** The conditions on which a waiting record is tried again. */
export interface Waiting {
  /** Those who were not free, other than for lack of a skill. */
  readonly reps: readonly RepKey[];
  /** When the first of them works again; null: none is waited for by the clock. */
  readonly begins: Instant | null;
}

/** Gives records their places, with turns and loads kept as it goes. */
export class Placing implements Placed {
  readonly places: Uint8Array;
  readonly owner: Uint16Array;
  readonly queue: Uint16Array;
  readonly reps: readonly RepKey[];
  readonly queues: readonly QueueKey[];
  readonly rota: Rota;
  private readonly repCode: ReadonlyMap<RepKey, number>;
  private readonly queueCode: ReadonlyMap<QueueKey, number>;
  /** Attempts of routes that read nothing of a record: the same for every one. */
  private readonly withoutSkills = new Map<PlacedRoute, Attempt>();
  /** Routes to the owner of the company, by the owner’s code. */
  private readonly ofOwners = new Map<PlacedRoute, Map<number, PlacedRoute>>();

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

  /** Whether it waits however many are free: for a value that can't be judged, a circle of gates, or its stream to run. */
  isHeldUp(record: number): boolean {
    const { scores, loop, gateUnjudged, outcome } = this.swept;
    return (
      hasBit(loop, record) ||
      scores.cell[record] === 0 ||
      hasBit(gateUnjudged, record) ||
      outcome[record] === ROUTE_UNJUDGED ||
      this.routeOf(record)?.later === true
    );
  }

  /** Carries the record's routes out, or sends it to the last resort. */
  place(record: number, at: Instant, attempts = this.attempts(record)): Waiting | null {
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

  /** The reps that a record waits for. A rep at the limit is freed by a closing, not by the clock. */
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

  /** The routes that are tried for a record, in order; null: none takes it. */
  attempts(record: number): Attempts | null {
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
      if (route.later) break;
      attempts.push(this.attempt(record, route));
      goesOn = route.nobodyFree.kind === 'next-route';
    }
    return attempts;
  }

  private attempt(record: number, route: PlacedRoute): Attempt {
    const owner = route.to.kind === 'company-owner' ? this.companyOwnerOf(record) : 0;
    const own = owner === 0 ? route : this.leadingToOwner(route, owner, record);
    if ((route.skills ?? []).length > 0)
      return { route: own, nobodyFree: route.nobodyFree, skills: skillsAsked(route, this.valuesOf(record)) };
    const known = this.withoutSkills.get(own) ?? { route: own, nobodyFree: route.nobodyFree, skills: [] };
    this.withoutSkills.set(own, known);
    return known;
  }

  /** The code of the owner of its company; 0: none. */
  private companyOwnerOf(record: number): number {
    const column = this.population.columns.get(COMPANY_OWNER);
    return column?.kind === 'codes' ? (column.codes[record] as number) : 0;
  }

  /** A route as it leads to one owner: the same for all records of that owner’s companies. */
  private leadingToOwner(route: PlacedRoute, owner: number, record: number): PlacedRoute {
    const known = this.ofOwners.get(route) ?? new Map<number, PlacedRoute>();
    this.ofOwners.set(route, known);
    const own = known.get(owner) ?? { ...route, ...leadingTo(route.to, this.valuesOf(record)) };
    known.set(owner, own);
    return own;
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
