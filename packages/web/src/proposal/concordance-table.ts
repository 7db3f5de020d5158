import { DatePipe, DecimalPipe, PercentPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import type { GateConcordance } from '@relvik/contracts';
import type { StageKey } from '@relvik/core';
import { switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { WordingService } from '../wording/wording.service';
import { ProposalService } from '../record/proposal.service';

/** How often people decided the proposals of a gate as the rule did: answers against answers, by person and by week. */
@Component({
  selector: 'rv-concordance',
  imports: [DatePipe, DecimalPipe, PercentPipe, Waiting],
  template: `
    @if (found(); as all) {
      <h2>
        Concordance, last {{ all.days }} days <span class="quiet">{{ words.wording().names.gate(all.gate) }}</span>
      </h2>
      @if (all.same; as same) {
        <div class="concordance">
          <table class="list counts">
            <thead>
              <tr>
                <th>People chose</th>
                @for (said of all.rule; track $index) {
                  <th class="number">rule: {{ answer(said, 'would not ask') }}</th>
                }
              </tr>
            </thead>
            <tbody>
              @for (chosen of all.person; track $index; let row = $index) {
                <tr>
                  <th scope="row">{{ answer(chosen, 'refused') }}</th>
                  @for (said of all.rule; track $index; let column = $index) {
                    <td class="number" [class.same]="said === chosen">{{ all.counts[row]?.[column] ?? 0 | number }}</td>
                  }
                </tr>
              }
            </tbody>
          </table>
          <table class="list">
            <thead>
              <tr>
                <th>By person</th>
                <th class="number">same</th>
              </tr>
            </thead>
            <tbody>
              @for (one of all.byPerson; track one.of) {
                <tr>
                  <td>{{ one.of }}</td>
                  <td class="number">{{ one.same }} of {{ one.all }}</td>
                </tr>
              }
            </tbody>
          </table>
          <table class="list">
            <thead>
              <tr>
                <th>By week from</th>
                <th class="number">same</th>
                <th></th>
              </tr>
            </thead>
            <tbody>
              @for (one of weeks(); track one.of) {
                <tr>
                  <td>{{ one.of | date: 'd MMM' }}</td>
                  <td class="number">{{ one.same }} of {{ one.all }}</td>
                  <td>
                    <span class="share"><i [style.width.%]="(100 * one.same) / one.all"></i></span>
                  </td>
                </tr>
              }
            </tbody>
          </table>
        </div>
        <p class="quiet">
          The same in {{ same.share * same.of | number: '1.0-0' }} of {{ same.of | number }},
          {{ same.share | percent }} ({{ 100 * same.low | number: '1.0-0' }} to
          {{ 100 * same.high | number: '1.0-0' }}).
        </p>
      } @else {
        <p class="quiet">Nobody has decided a proposal of this gate in that time.</p>
      }
    } @else {
      <rv-waiting [of]="loaded()" />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ConcordanceTable {
  private readonly proposals = inject(ProposalService);
  protected readonly words = inject(WordingService);
  readonly gate = input.required<string>();
  /** Goes up with each decision, so that it is counted anew. */
  readonly decided = input(0);

  private readonly asked = computed(() => ({ gate: this.gate(), decided: this.decided() }));
  protected readonly loaded = toSignal(
    toObservable(this.asked).pipe(switchMap(({ gate }) => asLoaded(this.proposals.concordance(gate)))),
    { initialValue: LOADING },
  );
  private kept: GateConcordance | null = null;
  /** Kept while it is counted anew, so that the page does not jump. */
  protected readonly found = computed(
    () => (this.kept = valueOf(this.loaded()) ?? (this.loaded().state === 'loading' ? this.kept : null)),
  );
  /** The last twelve. */
  protected readonly weeks = computed(() => (this.found()?.byWeek ?? []).slice(-12));

  protected answer(stage: StageKey | null, none: string): string {
    return stage === null ? none : this.words.wording().names.stage(stage);
  }
}
