import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { DoneEach } from '@relvik/contracts';
import { countOf } from '../wording/kind-words';

/** The result of work on several leads: how many were done, and the refused ones with the reason. */
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
  /** The verb for the count: "moved". */
  readonly verb = input.required<string>();
  protected readonly countOf = countOf;
}
