import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { RecordDetail } from '@relvik/contracts';
import type { Stage } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import type { Observable } from 'rxjs';
import { WordingService } from '../wording/wording.service';
import { RecordService } from './record.service';

/** The stages of deals from left to right; a click moves the deal; one that loses it asks why, and one that closes it what becomes of its open tasks. */
@Component({
  selector: 'rv-deal-stages',
  imports: [FormsModule, ButtonModule, InputTextModule, SelectModule],
  template: `
    <ol class="deal-stages" aria-label="Stages">
      @for (stage of stages(); track stage.key) {
        <li>
          <button
            type="button"
            [class.here]="stage.key === deal().stage"
            [class.passed]="stage.passed"
            [class.lost]="stage.kind === 'lost'"
            [attr.aria-current]="stage.key === deal().stage ? 'step' : null"
            [disabled]="busy() || !deal().may.edit"
            (click)="choose(stage)"
          >
            {{ stage.name }}
          </button>
        </li>
      }
    </ol>
    @if (others().length > 0 && deal().may.edit) {
      <p-select
        ariaLabel="Another pipeline"
        placeholder="Another pipeline …"
        [options]="others()"
        optionLabel="name"
        optionValue="entry"
        [disabled]="busy()"
        [ngModel]="null"
        (ngModelChange)="move($event, null)"
      />
    }
    @if (closing(); as stage) {
      <form class="joint" (ngSubmit)="move(stage.key, reason)" (keydown.escape)="closing.set(null)">
        <input
          pInputText
          name="reason"
          [attr.aria-label]="stage.kind === 'lost' ? 'Why it was lost' : 'Why'"
          placeholder="Why, in a few words"
          [(ngModel)]="reason"
        />
        @if (deal().openTasks > 0) {
          <label
            ><input type="checkbox" name="keepTasks" [(ngModel)]="keepTasks" />
            {{
              deal().openTasks === 1 ? 'its open task stays open' : 'its ' + deal().openTasks + ' open tasks stay open'
            }}</label
          >
        }
        <button pButton type="submit" [disabled]="busy() || (reason.trim() === '' && stage.kind === 'lost')">
          Move to {{ stage.name }}
        </button>
        <button type="button" class="link" (click)="closing.set(null)">Cancel</button>
      </form>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DealStages {
  private readonly records = inject(RecordService);
  private readonly words = inject(WordingService);
  readonly deal = input.required<RecordDetail>();
  readonly busy = input.required<boolean>();
  readonly run = output<Observable<unknown>>();
  protected readonly closing = signal<Stage | null>(null);
  protected reason = '';
  /** Else they are cancelled. */
  protected keepTasks = false;

  private readonly own = computed(() =>
    this.words.pipelinesOf('deal').find(({ stages }) => stages.some(({ key }) => key === this.deal().stage)),
  );
  /** Pipelines at whose entry it may go on. */
  protected readonly others = computed(() => this.words.pipelinesOf('deal').filter((one) => one !== this.own()));

  protected readonly stages = computed(() => {
    const stages = this.own()?.stages ?? [];
    const here = stages.findIndex(({ key }) => key === this.deal().stage);
    return stages.map((stage, i) => ({ ...stage, passed: i < here && stage.kind === 'open' }));
  });

  protected choose(stage: Stage): void {
    if (stage.key === this.deal().stage) return;
    const asksAboutTasks = stage.kind !== 'open' && this.deal().openTasks > 0;
    if (stage.kind !== 'lost' && !asksAboutTasks) {
      this.move(stage.key, null);
      return;
    }
    this.reason = '';
    this.keepTasks = false;
    this.closing.set(stage);
  }

  protected move(stage: string, reason: string | null): void {
    this.closing.set(null);
    this.run.emit(this.records.move(this.deal().id, { stage, reason: reason || null, keepTasks: this.keepTasks }));
  }
}
