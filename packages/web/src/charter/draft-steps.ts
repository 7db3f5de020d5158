import { signal } from '@angular/core';
import type { Charter } from '@relvik/core';

/** Changes within so many milliseconds of each other are one step back. */
const TYPING = 800;
const MOST_STEPS = 50;

/** A draft as it was before a change. */
export interface Step {
  readonly id: number;
  readonly charter: Charter;
  readonly at: number;
}

/** The drafts before each change; of changes in quick succession, such as typing, only the first. */
export class DraftSteps {
  private readonly steps = signal<readonly Step[]>([]);

  /** The newest step of a draft; null: it has none. */
  last(id: number | undefined): Step | null {
    const last = this.steps().at(-1);
    return last !== undefined && last.id === id ? last : null;
  }

  keep(step: Step): void {
    this.steps.update((steps) => {
      const own = steps.filter(({ id }) => id === step.id);
      const last = own.at(-1);
      // While one types, the draft before the first letter is what one goes back to.
      if (last !== undefined && step.at - last.at < TYPING) return [...own.slice(0, -1), { ...last, at: step.at }];
      return [...own, step].slice(-MOST_STEPS);
    });
  }

  /** Goes one step back: what is kept meanwhile is no step of its own. */
  goBack(change: () => void): void {
    const rest = this.steps().slice(0, -1);
    change();
    this.steps.set(rest);
  }
}
