import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { World } from '@relvik/core';
import { DateTime } from 'luxon';
import { MultiSelectModule } from 'primeng/multiselect';
import { MomentService } from './moment.service';

/** Chooses another moment: a day and time on the reader’s clock, and who is away. */
@Component({
  selector: 'rv-moment-form',
  imports: [FormsModule, MultiSelectModule],
  template: `
    <span class="joint moment" role="group" aria-label="At another moment">
      <label
        >as of <input #at type="datetime-local" aria-label="As of" [value]="text()" (change)="say(at.value)"
      /></label>
      <p-multiselect
        ariaLabel="Away then"
        [filter]="true"
        placeholder="nobody else away"
        [options]="people()"
        optionLabel="name"
        optionValue="key"
        [maxSelectedLabels]="3"
        [ngModel]="moment.away()"
        (ngModelChange)="moment.away.set($event)"
      />
      @if (!moment.isNow()) {
        <button type="button" class="link" (click)="moment.reset()">Now again</button>
      }
    </span>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MomentForm {
  protected readonly moment = inject(MomentService);
  readonly world = input.required<World>();
  protected readonly people = computed(() => [...this.world().reps.values()].filter((one) => one.mayTakeLeads));
  protected readonly text = computed(() => {
    const at = this.moment.at();
    return at === null ? '' : DateTime.fromMillis(at).toFormat("yyyy-MM-dd'T'HH:mm");
  });

  protected say(text: string): void {
    const at = DateTime.fromISO(text);
    this.moment.at.set(text !== '' && at.isValid ? at.toMillis() : null);
  }
}
