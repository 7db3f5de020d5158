import { type Decision, type Graded, placeWords, territoryWords, type Wording } from '@relvik/core';
import type { Traced } from './tracer.service';

/** One step of the bar: what the draft says, and what is in force where that differs. */
export interface TracerStep {
  readonly name: string;
  readonly draft: string;
  readonly inForce: string | null;
}

type Say<T> = (result: T, wording: Wording) => string;
type Steps<T> = readonly (readonly [name: string, say: Say<T>])[];

function score(axis: 'fit' | 'engagement'): Say<Graded> {
  return ({ score: of }) =>
    of[axis].judged ? String(of[axis].score) : of.admitted === 'no' ? 'not scored' : 'can’t be judged';
}

const GRADED: Steps<Graded> = [
  ['Fit', score('fit')],
  ['Engagement', score('engagement')],
  ['Grade', ({ grade }) => grade?.name ?? 'none'],
];

const GATED: Steps<Decision> = [...GRADED, ['Stage', ({ stage }, { names }) => names.stage(stage)]];

const DECIDED: Steps<Decision> = [
  ...GATED,
  ['Territory', ({ territory }, { names }) => territoryWords(territory, names).split(':')[0] ?? ''],
  ['Owner', ({ place }, { names }) => (place.kind === 'bay' ? 'Bay' : placeWords(place, names))],
];

function saidBy(traced: Traced): ReadonlyMap<string, string> {
  const all = <T>(steps: Steps<T>, result: T): ReadonlyMap<string, string> =>
    new Map(steps.map(([name, say]) => [name, say(result, traced.wording)]));
  switch (traced.kind) {
    case 'decided':
      return all(DECIDED, traced.result);
    case 'gated':
      return all(GATED, traced.result);
    case 'graded':
      return all(GRADED, traced.result);
  }
}

/** What both charters make of the tracer, step by step. */
export function tracerSteps(inForce: Traced | null, draft: Traced | null): TracerStep[] {
  const was = inForce === null ? null : saidBy(inForce);
  const now = draft === null ? null : saidBy(draft);
  const names = [...(now ?? was ?? new Map<string, string>(DECIDED.map(([name]) => [name, '–']))).keys()];
  return names.map((name) => {
    const drawn = now?.get(name) ?? '–';
    const standing = was?.get(name) ?? drawn;
    return { name, draft: drawn, inForce: standing === drawn ? null : standing };
  });
}
