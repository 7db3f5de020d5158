import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import { reasonsOf } from '@relvik/core';
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
          @if (one.kind === 'gated') {
            <span>{{ one.wording.names.stage(one.result.stage) }}</span>
          }
        </p>
        @if (gates().length > 0) {
          <ul class="plain">
            @for (line of gates(); track $index) {
              <li>{{ line }}</li>
            }
          </ul>
        }
        <rv-score-account [score]="one.result.score" [wording]="one.wording" />
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TracedAccount {
  readonly traced = input.required<Traced>();
  /** The reasons of the gates for a deal, in sentences. */
  protected readonly gates = computed(() => {
    const traced = this.traced();
    if (traced.kind !== 'gated') return [];
    return reasonsOf(traced.result, traced.wording).flatMap(({ step, text }) => (step === 'gate' ? [text] : []));
  });
}
