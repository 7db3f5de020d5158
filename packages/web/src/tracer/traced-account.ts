import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { DecisionView } from '../record/decision-view';
import { ScoreAccount } from '../record/score-account';
import type { Traced } from './tracer.service';

/** The account that one charter gives of the tracer. */
@Component({
  selector: 'rv-traced',
  imports: [DecisionView, ScoreAccount],
  template: `
    @if (traced(); as one) {
      @if (one.kind === 'decided') {
        <rv-decision [decision]="one.result" [wording]="one.wording" />
      } @else {
        <p>
          <b>{{ one.result.grade?.name ?? 'No grade' }}</b> <span class="quiet">rank {{ one.result.rank ?? '–' }}</span>
        </p>
        <rv-score-account [score]="one.result.score" [wording]="one.wording" />
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TracedAccount {
  readonly traced = input.required<Traced>();
}
