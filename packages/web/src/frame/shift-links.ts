import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Shifted } from '@relvik/core';

/** How many rise and how many fall, each listing those alone. */
@Component({
  selector: 'rv-shift-links',
  imports: [DecimalPipe],
  template: `<button
      type="button"
      class="link plainly"
      [attr.aria-label]="label() + ' up: show those leads'"
      [attr.aria-pressed]="shown() === 'up'"
      (click)="chosen.emit('up')"
    >
      {{ shifts().up.count | number }} up</button
    >,
    <button
      type="button"
      class="link plainly"
      [attr.aria-label]="label() + ' down: show those leads'"
      [attr.aria-pressed]="shown() === 'down'"
      (click)="chosen.emit('down')"
    >
      {{ shifts().down.count | number }} down
    </button>`,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShiftLinks {
  readonly label = input.required<string>();
  readonly shifts = input.required<{ readonly up: Shifted; readonly down: Shifted }>();
  /** The way whose records are listed; null: all are. */
  readonly shown = input.required<'up' | 'down' | null>();
  readonly chosen = output<'up' | 'down'>();
}
