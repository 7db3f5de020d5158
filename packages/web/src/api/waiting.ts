import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import type { Loaded } from './loaded';
import { ProblemNote } from './problem-note';

/** Stands where data will stand: loading, or why they could not be loaded. */
@Component({
  selector: 'rv-waiting',
  imports: [ProblemNote],
  template: `
    @let loaded = of();
    @if (loaded.state === 'failed') {
      <rv-problem-note [problem]="loaded.problem" />
    } @else {
      <p class="quiet" role="status">Loading …</p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Waiting {
  readonly of = input.required<Loaded<unknown>>();
}
