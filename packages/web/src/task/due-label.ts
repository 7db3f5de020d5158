import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { dueWords } from './due-words';

/** When a task is due; one that is overdue stands out. */
@Component({
  selector: 'rv-due',
  template: `
    @if (at(); as due) {
      <span [class.wrong]="late()" [title]="late() ? 'Overdue' : ''">{{ words() }}</span>
    } @else {
      –
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DueLabel {
  /** Null: nothing is to be done. */
  readonly at = input.required<number | null>();
  private readonly now = Date.now();

  protected readonly late = computed(() => (this.at() ?? this.now) < this.now);
  protected readonly words = computed(() => dueWords(this.at() ?? 0, this.now));
}
