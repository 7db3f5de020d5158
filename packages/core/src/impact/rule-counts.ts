import { MICRO } from '../signal/points';
import { AXES } from '../signal/signal';
import { countBits } from '../column/bits';
import { FIRST_ROUTE, NO_ROUTE, NOT_ROUTED } from '../sweep/route-sweep';
import type { Sweep, Swept } from '../sweep/sweep';

/** What each rule of a charter comes to over all records. */
export interface RuleTally {
  /** By score set that is on: how many records it admits, and how many of them it grades. */
  readonly sets: Readonly<Record<string, { readonly admits: number; readonly grades: number }>>;
  /**
   * By signal of the sets that are on: to how many of the records its set admits it gives points, and its share of all
   * points its axis gives them, 0 to 1.
   */
  readonly signals: Readonly<Record<string, { readonly records: number; readonly share: number }>>;
  /** By gate: how many records its condition holds for, and how many of them wait for a field to be filled. */
  readonly gates: Readonly<Record<string, { readonly holds: number; readonly unfilled: number }>>;
  /** By route: how many match it, and how many are left for it by those above. */
  readonly routes: Readonly<Record<string, { readonly matches: number; readonly takes: number }>>;
  /** How many are routed, and match nothing. */
  readonly routed: number;
  readonly lastResort: number;
}

/** The records that routes take, as if all came in. */
export interface Taken {
  /** By route, those that are off too. */
  readonly routes: Readonly<Record<string, number>>;
  /** How many are routed. */
  readonly routed: number;
  /** How many of them match nothing. */
  readonly lastResort: number;
}

/** Counts what the routes of a sweep's charter took with its last run. */
export function takenByRoutes({ outcome, rules }: Swept): Taken {
  const ready = rules.streams.flatMap((stream) => stream.routes);
  const taken = new Uint32Array(FIRST_ROUTE + ready.length);
  for (const code of outcome) taken[code] = (taken[code] as number) + 1;
  return {
    routes: Object.fromEntries(ready.map(({ key }, r) => [key, taken[FIRST_ROUTE + r] as number])),
    routed: outcome.length - (taken[NOT_ROUTED] as number),
    lastResort: taken[NO_ROUTE] as number,
  };
}

/** Counts what the rules of a sweep's charter came to with its last run. */
export function tallyRules(sweep: Sweep, swept: Swept): RuleTally {
  const signals: Record<string, { records: number; share: number }> = {};
  const axes = swept.sets.flatMap((of) => AXES.map((axis) => ({ of, axis })));
  for (const { of, axis } of axes) {
    const shares = of.set.signals
      .filter((signal) => signal.axis === axis && signal.on)
      .map((signal) => ({ key: signal.key, ...sweep.shareOf(of, axis, signal.key) }));
    const all = shares.reduce((sum, { micro }) => sum + Math.abs(micro) / MICRO, 0);
    for (const { key, records, micro } of shares)
      signals[key] = { records, share: all === 0 ? 0 : Math.abs(micro) / MICRO / all };
  }
  const taken = takenByRoutes(swept);
  const ready = swept.rules.streams.flatMap((stream) => stream.routes);
  const routes = Object.fromEntries(
    ready.map((route): [string, { matches: number; takes: number }] => [
      route.key,
      { matches: sweep.countOf(route.ready).yes, takes: taken.routes[route.key] ?? 0 },
    ]),
  );
  const gates = Object.fromEntries(
    swept.rules.gates.map(({ key, parts: { when, filled } }): [string, RuleTally['gates'][string]] => {
      const holds = sweep.countOf(when).yes;
      const whole = filled.length === 0 ? holds : sweep.countOf({ kind: 'all', of: [when, ...filled] }).yes;
      return [key, { holds, unfilled: holds - whole }];
    }),
  );
  const sets = swept.sets.map(({ set, admitted, graded }): [string, RuleTally['sets'][string]] => [
    set.key,
    { admits: countBits(admitted), grades: countBits(graded) },
  ]);
  return {
    sets: Object.fromEntries(sets),
    signals,
    gates,
    routes,
    routed: taken.routed,
    lastResort: taken.lastResort,
  };
}
