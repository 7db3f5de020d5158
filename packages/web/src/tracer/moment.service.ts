import { computed, Injectable, signal } from '@angular/core';
import type { RepKey, World } from '@relvik/core';

/** Another moment at which the tracer and the next leads are decided: a time, and who is away then. It changes nothing. */
@Injectable({ providedIn: 'root' })
export class MomentService {
  /** Null: now. */
  readonly at = signal<number | null>(null);
  readonly away = signal<readonly RepKey[]>([]);
  readonly isNow = computed(() => this.at() === null && this.away().length === 0);

  /** The world with those away who would be. */
  in(world: World): World {
    const away = this.away();
    if (away.length === 0) return world;
    const reps = [...world.reps].map(([key, rep]) => [key, away.includes(key) ? { ...rep, away: true } : rep] as const);
    return { ...world, reps: new Map(reps) };
  }

  reset(): void {
    this.at.set(null);
    this.away.set([]);
  }
}
