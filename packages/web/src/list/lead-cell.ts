import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { isLeadColumn, type LeadColumn, type LeadRow } from '@relvik/contracts';
import { AgoPipe } from '../api/ago.pipe';
import { DueLabel } from '../task/due-label';
import { GradeBadge } from '../ui/grade-badge';
import { PlaceLabel } from '../record/place-label';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';

/** One cell of a list of leads. */
@Component({
  selector: 'rv-lead-cell',
  imports: [AgoPipe, DueLabel, GradeBadge, PlaceLabel],
  template: `
    @let one = lead();
    @switch (listed()) {
      @case ('company') {
        {{ one.company }}
      }
      @case ('grade') {
        <rv-grade
          [grade]="one.grade"
          [fitBand]="one.fitBand"
          [engagementBand]="one.engagementBand"
          [bands]="words.engagementBands()"
        />
      }
      @case ('rank') {
        <b>{{ one.rank ?? '–' }}</b>
      }
      @case ('fit') {
        {{ one.fit ?? '–' }}
      }
      @case ('engagement') {
        {{ one.engagement ?? '–' }}
      }
      @case ('stage') {
        {{ words.wording().names.stage(one.stage) }}
      }
      @case ('territory') {
        {{ one.territory ? words.wording().names.territory(one.territory) : '–' }}
      }
      @case ('place') {
        <rv-place [place]="one.place" />
      }
      @case ('arrived') {
        <span class="quiet">{{ one.arrived | ago }}</span>
      }
      @case ('pipeline') {
        {{ pipeline() }}
      }
      @case ('task') {
        <rv-due [at]="one.nextTask" />
      }
      @case ('asks') {
        @for (gate of one.asks; track gate) {
          <span class="also">{{ words.wording().names.gate(gate) }}</span>
        } @empty {
          –
        }
      }
      @case ('waits') {
        @for (wait of one.waits; track wait.gate) {
          <span class="also wrapped">{{ words.wording().names.gate(wait.gate) }}: {{ wait.words }}</span>
        } @empty {
          –
        }
      }
      @default {
        @if (scores(); as own) {
          <span
            [title]="'Fit ' + (own.fit ?? 'can’t be judged') + ', engagement ' + (own.engagement ?? 'can’t be judged')"
            ><b>{{ own.rank ?? '–' }}</b>
            <span class="quiet">{{ own.fit ?? '–' }} · {{ own.engagement ?? '–' }}</span></span
          >
        } @else {
          {{ value() }}
        }
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LeadCell {
  protected readonly words = inject(WordingService);
  readonly lead = input.required<LeadRow>();
  readonly column = input.required<string>();

  protected readonly listed = computed((): LeadColumn | null => {
    const key = this.column();
    return isLeadColumn(key) ? key : null;
  });
  protected readonly pipeline = computed(
    () => this.words.pipelinesOf('lead').find(({ key }) => key === this.lead().pipeline)?.name ?? this.lead().pipeline,
  );
  /** What a score set gives it; null where the column is of no set, or the set does not admit it. */
  protected readonly scores = computed(() => this.lead().scores[this.column().replace(/^set:/, '')] ?? null);
  protected readonly value = computed(() => {
    const key = this.column().replace(/^field:/, '');
    const raw = this.lead().values[key] ?? '';
    return raw === '' ? '–' : shownAs(this.words.wording().fields.get(key), raw);
  });
}
