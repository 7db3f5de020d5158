import { Injectable, signal } from '@angular/core';

const KEPT_AS = 'relvik.impact';

/** Whether the impact stands at the right of the pages; remembered in this browser. */
@Injectable({ providedIn: 'root' })
export class ImpactFolding {
  private readonly shown = signal(localStorage.getItem(KEPT_AS) !== 'folded');
  readonly open = this.shown.asReadonly();

  toggle(): void {
    this.shown.update((open) => !open);
    localStorage.setItem(KEPT_AS, this.shown() ? 'open' : 'folded');
  }
}
