import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { AskedCells, RecordRow } from '@relvik/contracts';
import type { UnroutedKind } from '@relvik/core';
import { AgoPipe } from '../api/ago.pipe';
import { DueLabel } from '../task/due-label';
import { GradeBadge } from '../ui/grade-badge';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';
import { pathOf } from '../wording/kind-words';

/** One cell of a list of contacts, companies or deals. */
@Component({
  selector: 'rv-record-cell',
  imports: [RouterLink, AgoPipe, DueLabel, GradeBadge],
  template: `
    @let one = record();
    @switch (column()) {
      @case ('company') {
        @if (one.ties.company; as company) {
          <a [routerLink]="[companies, company.id]">{{ company.name }}</a>
        } @else {
          –
        }
      }
      @case ('contact') {
        @if (one.ties.contact; as contact) {
          <a [routerLink]="[contacts, contact.id]">{{ contact.name }}</a>
        } @else {
          –
        }
      }
      @case ('grade') {
        @if (one.admitted === 'no') {
          <span class="quiet" title="No score set admits it">–</span>
        } @else {
          <rv-grade
            [grade]="one.grade"
            [fitBand]="one.fitBand"
            [engagementBand]="one.engagementBand"
            [bands]="bands()"
          />
        }
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
        {{ one.stage ? words.wording().names.stage(one.stage) : '–' }}
      }
      @case ('owner') {
        {{ one.owner ? words.wording().names.rep(one.owner) : '–' }}
      }
      @case ('task') {
        <rv-due [at]="one.nextTask ?? null" />
      }
      @case ('leads') {
        {{ one.leads }}
      }
      @case ('arrived') {
        <span class="quiet">{{ one.arrived | ago }}</span>
      }
      @default {
        @if (scores(); as own) {
          <b>{{ own.rank ?? '–' }}</b> <span class="quiet">{{ own.fit ?? '–' }} · {{ own.engagement ?? '–' }}</span>
        } @else {
          {{ value() }}
        }
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordCell {
  protected readonly words = inject(WordingService);
  readonly record = input.required<Omit<RecordRow, keyof AskedCells> & Partial<AskedCells>>();
  readonly kind = input.required<UnroutedKind>();
  readonly column = input.required<string>();
  protected readonly companies = pathOf('company');
  protected readonly contacts = pathOf('contact');

  protected readonly bands = computed(() => Math.max(1, this.words.bandsOf(this.kind(), 'engagement').length));
  /** The scores by the set of the column; null where the column is of no set, or the set does not admit the record. */
  protected readonly scores = computed(() => this.record().scores?.[this.column().replace(/^set:/, '')] ?? null);
  protected readonly value = computed(() => {
    const key = this.column().replace(/^field:/, '');
    const raw = this.record().values?.[key] ?? '';
    return raw === '' ? '–' : shownAs(this.words.wording().fields.get(key), raw);
  });
}
