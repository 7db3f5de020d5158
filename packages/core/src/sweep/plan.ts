import type { Decider } from '../gate/gate';
import type { ReadyGate } from '../gate/pass-gates';
import type { StageKey } from '../record/keys';
import { type ReadyRoute, type ReadyStream, whenNobodyIsFree } from '../route/match-route';
import type { GradeCell } from './grade-cells';

/** The words of a cell that a condition compares. */
export interface CellWords {
  readonly fit: string;
  readonly engagement: string;
  readonly verdict: string;
}

export type PlannedGate = Pick<ReadyGate, 'from' | 'to' | 'on' | 'look' | 'ready' | 'effects' | 'alternatives'> & {
  readonly decider: Decider['kind'];
  /** How many tasks it makes, and whether it makes a deal. */
  readonly tasks: number;
  readonly deal: boolean;
};

/** All that taking records through the gates, and telling who is still open, reads of a charter. */
export interface GatePlan {
  readonly stages: readonly StageKey[];
  /** For each stage the keys of those that were merged into it. */
  readonly mergedFrom: readonly (readonly StageKey[])[];
  /** The pipelines with the stage that a new record enters; none: records of this kind have no stages. */
  readonly entryStages: readonly (readonly [pipeline: string, stage: StageKey])[];
  /** Places of the stages that close a record. */
  readonly closing: readonly number[];
  readonly gates: readonly PlannedGate[];
  readonly cells: readonly CellWords[];
  /** Tells apart who is graded by which set. */
  readonly entries: string;
  /** Tells apart where the territories lie. */
  readonly territories: number;
}

/** A route; `goesOn`: the next that matches is tried while nobody is free. */
export type PlannedRoute = Pick<ReadyRoute, 'on' | 'ready'> & { readonly goesOn: boolean };

export type PlannedStream = Pick<ReadyStream, 'on' | 'entering' | 'ready'> & {
  readonly routes: readonly PlannedRoute[];
};

/** All that routing reads of a charter, beside what gates read. */
export interface RoutePlan {
  readonly streams: readonly PlannedStream[];
}

/** The words of each cell, in their order. */
export function cellWords(grades: readonly GradeCell[]): CellWords[] {
  return grades.map(({ set: { grid }, fit, engagement }) => ({
    fit: grid.fit.bands[fit]?.key ?? '',
    engagement: grid.engagement.bands[engagement]?.key ?? '',
    verdict: grid.cells[fit]?.[engagement] ?? '',
  }));
}

/**
 * The key under which what was made from a plan is kept. It is made of the whole plan: what is not in it can't be read, so
 * nothing that matters can be left out.
 */
export function planKey(plan: GatePlan | RoutePlan): string {
  return JSON.stringify(plan, (_, value: unknown) => (value instanceof Set ? [...value] : value));
}

/** A charter's gates and streams without what a sweep doesn't read, so that plans differ only where records could. */
export const planned = {
  gate: ({ from, to, on, look, ready, decider, effects, tasks, deal, alternatives }: ReadyGate): PlannedGate => ({
    ...{ from, to, on, look, ready, effects, alternatives },
    ...{ decider: decider.kind, tasks: tasks.length, deal: deal !== null },
  }),
  stream: ({ on, entering, ready, routes, nobodyFree }: ReadyStream): PlannedStream => ({
    on,
    entering,
    ready,
    routes: routes.map((route) => ({
      ...{ on: route.on, ready: route.ready },
      goesOn: whenNobodyIsFree({ nobodyFree }, route).kind === 'next-route',
    })),
  }),
};
