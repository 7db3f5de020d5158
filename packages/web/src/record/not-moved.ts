import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Obstacle, Wording } from '@relvik/core';

/** Why a lead or deal has not moved: each gate of its stage, and the first thing that stands in the way. */
@Component({
  selector: 'rv-not-moved',
  template: `
    @if (obstacles().length > 0) {
      <details class="not-moved">
        <summary>Why has it not moved?</summary>
        <ul class="plain">
          @for (one of obstacles(); track one.gate) {
            <li>
              → {{ wording().names.stage(one.to) }} <span class="quiet">{{ wording().names.gate(one.gate) }}</span>
              {{ one.words }}
            </li>
          }
        </ul>
      </details>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NotMoved {
  readonly obstacles = input.required<readonly Obstacle[]>();
  readonly wording = input.required<Wording>();
}
