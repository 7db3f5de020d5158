import { type Decision, placeWords, territoryWords, type Wording } from '@relvik/core';
import type { Traced } from './tracer.service';

/** One step of the bar: what the draft says, and what is in force where that differs. */
export interface TracerStep {
  readonly name: string;
  readonly draft: string;
  readonly inForce: string | null;
}

type Say = (decision: Decision, wording: Wording) => string;

function score(axis: 'fit' | 'engagement'): Say {
  return ({ score: of }) =>
    of[axis].judged ? String(of[axis].score) : of.admitted === 'no' ? 'not scored' : 'can’t be judged';
}

const STEPS: readonly (readonly [name: string, say: Say])[] = [
  ['Fit', score('fit')],
  ['Engagement', score('engagement')],
  ['Grade', ({ grade }) => grade?.name ?? 'none'],
  ['Stage', ({ stage }, { names }) => names.stage(stage)],
  ['Territory', ({ territory }, { names }) => territoryWords(territory, names).split(':')[0] ?? ''],
  ['Owner', ({ place }, { names }) => (place.kind === 'bay' ? 'Bay' : placeWords(place, names))],
];

/** What both charters make of the tracer, step by step. */
export function tracerSteps(inForce: Traced | null, draft: Traced | null): TracerStep[] {
  return STEPS.map(([name, say]) => {
    const now = draft === null ? '–' : say(draft.decision, draft.wording);
    const was = inForce === null ? now : say(inForce.decision, inForce.wording);
    return { name, draft: now, inForce: was === now ? null : was };
  });
}
