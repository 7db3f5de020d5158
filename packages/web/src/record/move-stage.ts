import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { LeadDetail } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { WordingService } from '../wording/wording.service';

/** Where a hand moves leads, and why. */
export interface StageMove {
  readonly stage: string;
  readonly reason: string | null;
}

/** Chooses a stage to which a hand moves leads, with a reason where it needs one. */
@Component({
  selector: 'rv-move-stage',
  imports: [FormsModule, ButtonModule, InputTextModule, SelectModule],
  template: `
    <form class="joint" (ngSubmit)="move()">
      <span>Move to</span>
      <p-select
        ariaLabel="Stage to move to"
        name="stage"
        [options]="options()"
        optionLabel="label"
        optionValue="stage"
        placeholder="choose a stage"
        [ngModel]="stage()"
        (ngModelChange)="stage.set($event)"
      />
      @if (needsReason()) {
        <input
          pInputText
          name="reason"
          aria-label="Why it is moved"
          placeholder="Why, in a few words"
          [ngModel]="reason()"
          (ngModelChange)="reason.set($event)"
        />
      }
      <button pButton type="submit" [outlined]="true" [disabled]="busy() || !ready()">Move</button>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MoveStage {
  private readonly words = inject(WordingService);
  readonly moves = input.required<LeadDetail['moves']>();
  readonly busy = input.required<boolean>();
  readonly moved = output<StageMove>();
  protected readonly stage = signal<string | null>(null);
  protected readonly reason = signal('');

  protected readonly options = computed(() =>
    this.moves().map((one) => ({ ...one, label: this.words.wording().names.stage(one.stage) })),
  );
  protected readonly needsReason = computed(
    () => this.moves().find(({ stage }) => stage === this.stage())?.needsReason ?? false,
  );
  protected readonly ready = computed(
    () => this.stage() !== null && (!this.needsReason() || this.reason().trim() !== ''),
  );

  protected move(): void {
    const stage = this.stage();
    if (stage === null || !this.ready()) return;
    this.moved.emit({ stage, reason: this.reason().trim() || null });
    this.stage.set(null);
    this.reason.set('');
  }
}
