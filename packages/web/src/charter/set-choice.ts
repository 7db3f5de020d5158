import { computed, inject, Injectable, signal } from '@angular/core';
import type { ScoreSet } from '@relvik/core';
import { CharterService } from './charter.service';

/** The score set that one looks at: the same on every page of the course. */
@Injectable({ providedIn: 'root' })
export class SetChoice {
  private readonly charters = inject(CharterService);
  private readonly chosen = signal<string | null>(null);
  readonly sets = computed(() => this.charters.shown()?.scoreSets ?? []);
  /** The one chosen, else the first; null while no charter is there. */
  readonly set = computed(() => {
    const sets = this.sets();
    return sets.find(({ key }) => key === this.chosen()) ?? sets[0] ?? null;
  });
  readonly key = computed(() => this.set()?.key ?? null);
  /** The same set as it is in force; null where the draft adds it. */
  readonly inForce = computed(
    () => this.charters.inForce()?.charter.scoreSets.find(({ key }) => key === this.key()) ?? null,
  );

  choose(key: string): void {
    this.chosen.set(key);
  }

  /** Changes the set in the draft. */
  change(change: (set: ScoreSet) => ScoreSet): void {
    const key = this.key();
    if (key !== null) this.changeOne(key, change);
  }

  /** Changes one of the sets in the draft. */
  changeOne(key: string, change: (set: ScoreSet) => ScoreSet): void {
    this.changeAll((sets) => sets.map((set) => (set.key === key ? change(set) : set)));
  }

  changeAll(change: (sets: readonly ScoreSet[]) => readonly ScoreSet[]): void {
    this.charters.change((charter) => ({ ...charter, scoreSets: change(charter.scoreSets) }));
  }
}
