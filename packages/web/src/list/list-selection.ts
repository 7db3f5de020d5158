import { signal } from '@angular/core';

interface Row {
  readonly id: number;
}

/** The rows of a list chosen for work on many at once, also those of other pages. */
export class ListSelection {
  private readonly chosen = signal<readonly number[]>([]);
  readonly ids = this.chosen.asReadonly();

  has(id: number): boolean {
    return this.chosen().includes(id);
  }

  hasAll(page: readonly Row[]): boolean {
    return page.length > 0 && page.every(({ id }) => this.has(id));
  }

  choose(page: readonly Row[], chosen: boolean): void {
    const here = page.map(({ id }) => id);
    this.chosen.update((ids) => [...ids.filter((id) => !here.includes(id)), ...(chosen ? here : [])]);
  }

  clear(): void {
    this.chosen.set([]);
  }
}
