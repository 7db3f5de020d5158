import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { DaysOff } from '@relvik/core';

/** Days on which someone is off: from a day up to and with another. */
@Component({
  selector: 'rv-days-off-form',
  template: `
    @for (one of daysOff(); track $index) {
      <span class="span">
        <input
          #from
          type="date"
          aria-label="Off from"
          [value]="one.from"
          (change)="change($index, { from: from.value, to: from.value > one.to ? from.value : one.to })"
        />
        –
        <input
          #to
          type="date"
          aria-label="Off up to and with"
          [min]="one.from"
          [value]="one.to"
          (change)="change($index, { to: to.value })"
        />
        @if (one.hours; as part) {
          <span class="quiet">{{ part.from }}-{{ part.to }}</span>
        }
        <button type="button" class="link" aria-label="Not off then" (click)="drop($index)">×</button>
      </span>
    }
    <button type="button" class="link" (click)="add()">+ days off</button>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DaysOffForm {
  readonly daysOff = input.required<readonly DaysOff[]>();
  readonly changed = output<readonly DaysOff[]>();

  protected change(at: number, to: Partial<DaysOff>): void {
    if (to.from === '' || to.to === '') return;
    this.changed.emit(this.daysOff().map((one, i) => (i === at ? { ...one, ...to } : one)));
  }

  protected drop(at: number): void {
    this.changed.emit(this.daysOff().filter((_, i) => i !== at));
  }

  protected add(): void {
    const today = new Date().toLocaleDateString('sv');
    this.changed.emit([...this.daysOff(), { from: today, to: today, hours: null }]);
  }
}
