import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { WordingService } from '../wording/wording.service';

/** The territory that leads are pinned to, and why; null: they are unpinned. */
export interface TerritoryPin {
  readonly territory: string | null;
  readonly reason: string | null;
}

const FOLLOW = '';

/** Chooses the territory that leads are pinned to, with a note. */
@Component({
  selector: 'rv-pin-territory',
  imports: [FormsModule, ButtonModule, InputTextModule, SelectModule],
  template: `
    <form class="joint" (ngSubmit)="pin()">
      <span>Keep in the territory</span>
      <p-select
        ariaLabel="Territory to keep in"
        name="territory"
        [options]="options()"
        optionLabel="name"
        optionValue="key"
        [filter]="options().length > 12"
        placeholder="choose one"
        [ngModel]="territory()"
        (ngModelChange)="territory.set($event)"
      />
      <input
        pInputText
        name="why"
        aria-label="Why it is kept there"
        placeholder="Why, in a few words"
        [ngModel]="reason()"
        (ngModelChange)="reason.set($event)"
      />
      <button pButton type="submit" [outlined]="true" [disabled]="busy() || territory() === null">
        {{ territory() === '' ? 'Unpin' : 'Pin' }}
      </button>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PinTerritory {
  private readonly words = inject(WordingService);
  readonly busy = input.required<boolean>();
  /** Whether some of them are pinned, and can follow their address again. */
  readonly unpins = input.required<boolean>();
  readonly pinned = output<TerritoryPin>();
  protected readonly territory = signal<string | null>(null);
  protected readonly reason = signal('');
  protected readonly options = computed(() => [
    ...(this.unpins() ? [{ key: FOLLOW, name: 'that of the address' }] : []),
    ...this.words.lists().territories,
  ]);

  protected pin(): void {
    const territory = this.territory();
    if (territory === null) return;
    this.pinned.emit({ territory: territory === FOLLOW ? null : territory, reason: this.reason().trim() || null });
    this.territory.set(null);
    this.reason.set('');
  }
}
