import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { DateTime } from 'luxon';

const QUICK = [
  { label: 'in 1 h', later: (now: DateTime) => now.plus({ hours: 1 }).startOf('minute') },
  { label: 'tomorrow', later: (now: DateTime) => now.plus({ days: 1 }).set({ hour: 9 }).startOf('hour') },
  { label: 'in a week', later: (now: DateTime) => now.plus({ weeks: 1 }).set({ hour: 9 }).startOf('hour') },
] as const;

/** Asks for a day and a time, by the reader's clock: typed, or one of the usual ones. */
@Component({
  selector: 'rv-due-field',
  template: `
    <input
      class="p-inputtext due-field"
      type="datetime-local"
      [attr.aria-label]="label()"
      [value]="text()"
      (change)="type($any($event.target).value)"
    />
    @for (one of quick; track one.label) {
      <button type="button" class="link" (click)="choose(one)">{{ one.label }}</button>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DueField {
  readonly label = input('When it is due');
  /** Null: nothing is chosen yet. */
  readonly at = input.required<number | null>();
  readonly changed = output<number | null>();
  protected readonly quick = QUICK;

  protected readonly text = computed(() => {
    const at = this.at();
    return at === null ? '' : DateTime.fromMillis(at).toFormat("yyyy-MM-dd'T'HH:mm");
  });

  protected type(text: string): void {
    const at = DateTime.fromISO(text);
    this.changed.emit(at.isValid ? at.toMillis() : null);
  }

  protected choose({ later }: (typeof QUICK)[number]): void {
    this.changed.emit(later(DateTime.now()).toMillis());
  }
}
