import { type Bits, noBits } from '../column/bits';
import { type ReadyStream, whenNobodyIsFree } from '../route/match-route';
import type { NobodyFree, Route } from '../route/route';
import { type Chunk, CHUNK } from './chunk';
import type { RoutePlan } from './plan';
import { type Term, termOf, type TermSetting } from './term';

/** What became of a record's routing: these, or {@link FIRST_ROUTE} plus the route's place in the charter. */
export const NOT_ROUTED = 0;
export const ROUTE_UNJUDGED = 1;
export const NO_ROUTE = 2;
export const FIRST_ROUTE = 3;

/** A route of a charter, with its place among all of them. */
export interface PlacedRoute extends Route {
  /** Its own rule, else its stream’s. */
  readonly nobodyFree: NobodyFree;
  /** Matched records wait until its stream runs. */
  readonly later: boolean;
}

/** All routes of a charter, those that are off too, in the order of streams and routes. */
export function routesOf(streams: readonly ReadyStream[]): readonly PlacedRoute[] {
  return streams.flatMap((stream) =>
    stream.routes.map((route) => ({
      ...route,
      nobodyFree: whenNobodyIsFree(stream, route),
      later: stream.onlyOnSchedule === true,
    })),
  );
}

/** The answers of a stream’s entry condition, or of a route, over all records in the stream, regardless of the routes above. */
export interface Asking {
  /** The outcome that the route stands for; {@link NOT_ROUTED} for an entry, which takes none. */
  readonly outcome: number;
  readonly yes: Bits;
  readonly unjudged: Bits;
}

interface StreamTerm {
  readonly entering: readonly number[];
  readonly entry: Term;
  readonly asksEntry: Asking | null;
  readonly routes: readonly { readonly outcome: number; readonly term: Term; readonly asks: Asking | null }[];
}

/** Finds for each record the first route that matches; the same as `matchRoute` for each. */
export class RouteSweep {
  readonly outcome: Uint16Array;
  /** Entries and routes in order, where the search goes on after some route; null: it never does. */
  readonly asking: readonly Asking[] | null;
  private readonly streams: readonly StreamTerm[];
  private readonly left = new Uint32Array(CHUNK);
  private readonly inside = new Uint32Array(CHUNK);
  private readonly entered = new Uint32Array(CHUNK);

  /** @param setting its stages are the charter's, in its order */
  constructor({ streams }: RoutePlan, setting: TermSetting) {
    const { stages } = setting;
    const { size } = setting.resident.population;
    this.outcome = new Uint16Array(size);
    const goesOn = streams.some(({ on, routes }) => on && routes.some((route) => route.on && route.goesOn));
    const asking: Asking[] = [];
    const asks = (of: number): Asking | null => {
      if (!goesOn) return null;
      const one = { outcome: of, yes: noBits(size), unjudged: noBits(size) };
      asking.push(one);
      return one;
    };
    let outcome = FIRST_ROUTE;
    this.streams = streams.flatMap((stream): StreamTerm[] => {
      const first = outcome;
      outcome += stream.routes.length;
      if (!stream.on) return [];
      return [
        {
          entering: stream.entering.map((stage) => stages.indexOf(stage)),
          entry: termOf(stream.ready, setting),
          asksEntry: asks(NOT_ROUTED),
          routes: stream.routes.flatMap((route, r) =>
            route.on ? [{ outcome: first + r, term: termOf(route.ready, setting), asks: asks(first + r) }] : [],
          ),
        },
      ];
    });
    this.asking = goesOn ? asking : null;
    this.entering = [...new Set(this.streams.flatMap((stream) => stream.entering))];
  }

  /** Stages on whose entering some stream acts. */
  readonly entering: readonly number[];

  /**
   * Routes the records of a chunk.
   *
   * @param routable which records are routed
   * @param stages for each stage the records that are in it, by word of the chunk
   */
  match(chunk: Chunk, routable: Uint32Array, stages: readonly Uint32Array[]): void {
    const { words, count } = chunk;
    const { left, inside } = this;
    for (let k = 0; k < count; k += 1) {
      const base = (words[k] as number) << 5;
      this.outcome.fill(NOT_ROUTED, base, base + 32);
      left[k] = routable[k] as number;
    }
    for (const stream of this.streams) {
      if (stream.asksEntry !== null) this.enter(stream, chunk, routable, stages);
      inside.fill(0, 0, count);
      for (const stage of stream.entering) {
        const here = stages[stage] as Uint32Array;
        for (let k = 0; k < count; k += 1)
          inside[k] = (inside[k] as number) | ((left[k] as number) & (here[k] as number));
      }
      const entry = chunk.ask(stream.entry);
      for (let k = 0; k < count; k += 1) {
        const open = (inside[k] as number) & (entry.unjudged[k] as number);
        if (open !== 0) this.settle(words[k] as number, open, ROUTE_UNJUDGED, k);
        inside[k] = (inside[k] as number) & (entry.yes[k] as number);
      }
      for (const { outcome, term, asks } of stream.routes) {
        const { yes, unjudged } = chunk.ask(term);
        if (asks !== null) note(asks, chunk, this.entered, yes, unjudged);
        for (let k = 0; k < count; k += 1) {
          const here = inside[k] as number;
          if (here === 0) continue;
          const hit = here & (yes[k] as number);
          const open = here & (unjudged[k] as number);
          if (hit !== 0) this.settle(words[k] as number, hit, outcome, k);
          if (open !== 0) this.settle(words[k] as number, open, ROUTE_UNJUDGED, k);
          inside[k] = here & ~(hit | open);
        }
      }
    }
    for (let k = 0; k < count; k += 1)
      if (left[k] !== 0) this.settle(words[k] as number, left[k] as number, NO_ROUTE, k);
  }

  /** Notes whom a stream looks at, whatever those before it did. */
  private enter(
    { entering, entry, asksEntry }: StreamTerm,
    chunk: Chunk,
    routable: Uint32Array,
    stages: readonly Uint32Array[],
  ): void {
    const { entered } = this;
    const { count } = chunk;
    entered.fill(0, 0, count);
    for (const stage of entering) {
      const here = stages[stage] as Uint32Array;
      for (let k = 0; k < count; k += 1)
        entered[k] = (entered[k] as number) | ((routable[k] as number) & (here[k] as number));
    }
    const { yes, unjudged } = chunk.ask(entry);
    if (asksEntry !== null) note(asksEntry, chunk, entered, yes, unjudged);
    for (let k = 0; k < count; k += 1) entered[k] = (entered[k] as number) & (yes[k] as number);
  }

  private settle(w: number, bits: number, outcome: number, k: number): void {
    this.left[k] = (this.left[k] as number) & ~bits;
    for (let rest = bits; rest !== 0; rest &= rest - 1)
      this.outcome[(w << 5) + 31 - Math.clz32(rest & -rest)] = outcome;
  }
}

function note(
  { yes, unjudged }: Asking,
  { words, count }: Chunk,
  of: Uint32Array,
  says: Uint32Array,
  not: Uint32Array,
): void {
  for (let k = 0; k < count; k += 1) {
    const w = words[k] as number;
    yes[w] = (of[k] as number) & (says[k] as number);
    unjudged[w] = (of[k] as number) & (not[k] as number);
  }
}
