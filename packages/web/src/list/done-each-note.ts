import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { DoneEach } from '@relvik/contracts';
import { countOf } from '../wording/kind-words';

/** How many leads something was done with, and those that stay as they are, with why. */
@Component({
  selector: 'rv-done-each',
  imports: [RouterLink],
  template: `
    <span class="quiet" role="status">{{ countOf('lead', each().done.length) }} {{ verb() }}.</span>
    @for (one of each().refused; track one.id) {
      <span class="wrong"
        ><a [routerLink]="['/leads', one.id]">Lead {{ one.id }}</a> stays: {{ one.why }}</span
      >
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DoneEachNote {
  readonly each = input.required<DoneEach>();
  /** What was done: "moved". */
  readonly verb = input.required<string>();
  protected readonly countOf = countOf;
}
