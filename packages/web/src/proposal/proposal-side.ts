import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { LeadDetail, ProposalRow } from '@relvik/contracts';
import { of, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { changeWords } from '../record/change-words';
import { LeadService } from '../record/lead.service';
import { GradeBadge } from '../ui/grade-badge';
import { pathOf, singularHeadingOf } from '../wording/kind-words';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';
import { ProposalService } from '../record/proposal.service';

/** Fields that say how a person is reached. */
const REACH = ['email', 'telephone', 'url'];

/** A proposal with its record: each outcome with what speaks for it, what happened since it was asked, and how to reach them. */
@Component({
  selector: 'rv-proposal-side',
  imports: [DatePipe, RouterLink, GradeBadge],
  template: `
    @let row = proposal();
    @let names = words.wording().names;
    <h2>
      <a [routerLink]="[pathOf(row.record.kind), row.record.id]">{{
        row.record.company || row.record.name || headingOf(row.record.kind) + ' ' + row.record.id
      }}</a>
      @if (row.record.company && row.record.name && row.record.name !== row.record.company) {
        <span class="quiet">{{ row.record.name }}</span>
      }
    </h2>
    <p class="facts">
      <rv-grade
        [grade]="row.record.grade"
        [fitBand]="row.record.fitBand"
        [engagementBand]="row.record.engagementBand"
        [bands]="words.engagementBands()"
      />
      <span>{{ row.record.grade ?? 'No grade' }}</span>
      <span
        >rank <b class="code">{{ row.record.rank ?? '–' }}</b></span
      >
      <span>{{ names.stage(row.record.stage) }}</span>
      @if (row.record.territory; as territory) {
        <span>{{ names.territory(territory) }}</span>
      }
    </p>
    <p>
      {{ names.gate(row.gate) }} <span class="quiet">{{ row.why }}</span>
    </p>
    <div class="outcomes">
      @for (outcome of row.outcomes; track outcome.to) {
        <button
          type="button"
          class="outcome-choice"
          [class.pick]="outcome.to === row.pick"
          [disabled]="busy()"
          (click)="taken.emit(outcome.to)"
        >
          <b>{{ names.stage(outcome.to) }}</b>
          @if (outcome.to === row.pick) {
            <span class="rule">rule’s pick ✓</span>
          }
          @if (outcome.why) {
            <small class="quiet">{{ outcome.to === row.pick ? outcome.why : 'no: ' + outcome.why }}</small>
          }
        </button>
      }
    </div>
    <h3>Changed since it asked</h3>
    <ul class="plain">
      @for (change of changes(); track $index) {
        <li>
          {{ change.what }}
          @if (change.from) {
            <s class="quiet">{{ change.from }}</s> →
          }
          <b>{{ change.to }}</b>
        </li>
      }
      @for (activity of detail()?.activities ?? []; track $index) {
        <li>
          {{ names.activity(activity.kind) }} <span class="quiet">{{ activity.at | date: 'd MMM, HH:mm' }}</span>
        </li>
      }
      @if (detail() && changes().length === 0 && detail()?.activities?.length === 0) {
        <li class="quiet">Nothing.</li>
      }
    </ul>
    @if (reach().length > 0) {
      <h3>Reach them</h3>
      <ul class="plain">
        @for (one of reach(); track $index) {
          <li class="code">{{ one }}</li>
        }
      </ul>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ProposalSide {
  protected readonly words = inject(WordingService);
  private readonly proposals = inject(ProposalService);
  private readonly leads = inject(LeadService);
  readonly proposal = input.required<ProposalRow>();
  readonly busy = input.required<boolean>();
  readonly taken = output<string>();

  private readonly id = computed(() => this.proposal().id);
  protected readonly pathOf = pathOf;
  protected readonly headingOf = singularHeadingOf;
  /** 0: it is about no lead. */
  private readonly leadId = computed(() => {
    const { kind, id } = this.proposal().record;
    return kind === 'lead' ? id : 0;
  });
  private readonly loaded = toSignal(toObservable(this.id).pipe(switchMap((id) => asLoaded(this.proposals.one(id)))), {
    initialValue: LOADING,
  });
  private readonly lead = toSignal(
    toObservable(this.leadId).pipe(
      switchMap((id) => (id === 0 ? of(LOADING) : asLoaded<LeadDetail>(this.leads.one(id)))),
    ),
    { initialValue: LOADING },
  );
  /** That of this proposal; while another is on its way, none. */
  protected readonly detail = computed(() => {
    const found = valueOf(this.loaded());
    return found?.id === this.id() ? found : null;
  });
  protected readonly changes = computed(() =>
    (this.detail()?.changes ?? []).map((change) => changeWords(change, this.words.wording())),
  );
  protected readonly reach = computed(() => {
    const { fields } = this.words.wording();
    return (valueOf(this.lead())?.values ?? []).flatMap(({ field, shown, unreadable }) => {
      const known = fields.get(field);
      return unreadable === null && shown !== '' && REACH.includes(known?.type ?? 'text')
        ? [shownAs(known, shown)]
        : [];
    });
  });
}
