import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import {
  newRateSchema,
  type ProblemDocument,
  type RateGiven,
  type RateList,
  type TakeBack,
  type Taken,
  type UnjudgedRow,
} from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import type { Observable } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { ValueField } from '../record/value-field';
import { pathOf } from '../wording/kind-words';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';
import { CatalogueService } from './catalogue.service';
import { Rates } from './rates';
import { SaidList } from './said-list';
import { meaningWords } from './spelling-words';
import { TakeSpelling } from './take-spelling';

/** Values that can't be judged: what they are, how many leads have them, and one place to put them right together. */
@Component({
  selector: 'rv-unjudged',
  imports: [
    DecimalPipe,
    FormsModule,
    RouterLink,
    ButtonModule,
    InputTextModule,
    ProblemNote,
    Rates,
    SaidList,
    TakeSpelling,
    ValueField,
    Waiting,
  ],
  templateUrl: './unjudged.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class UnjudgedPage {
  private readonly catalogue = inject(CatalogueService);
  protected readonly words = inject(WordingService);
  protected readonly linkOf = (kind: RecordKind, id: number): unknown[] => [pathOf(kind), id];
  protected readonly loaded = toSignal(asLoaded(this.catalogue.unjudged()), { initialValue: LOADING });
  private readonly after = signal<{ readonly rows: readonly UnjudgedRow[]; readonly done: string } | null>(null);
  private readonly known = toSignal(asLoaded(this.catalogue.rates()), { initialValue: LOADING });
  private readonly changed = signal<RateList | null>(null);
  protected readonly rates = computed(() => this.changed() ?? valueOf(this.known()));
  protected readonly rows = computed(() => {
    const rows = this.after()?.rows ?? valueOf(this.loaded());
    const { fields } = this.words.wording();
    return (
      rows?.map((row) => {
        const of = fields.get(row.field) ?? null;
        return { ...row, id: `${row.field} ${row.raw}`, of, likelyWords: shownAs(of ?? undefined, row.likely ?? '') };
      }) ?? null
    );
  });
  protected readonly done = computed(() => this.after()?.done ?? null);

  /** The spelling that was taken last, which can be taken back. */
  protected readonly spelled = signal<TakeBack | null>(null);
  /** The row whose text is being taken for something, by id. */
  protected readonly taking = signal<string | null>(null);
  protected readonly editing = signal<string | null>(null);
  protected readonly typed = signal('');
  protected readonly from = signal('');
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);

  protected begin({ id, rateFrom }: { readonly id: string; readonly rateFrom: string | null }): void {
    this.typed.set('');
    this.from.set(rateFrom ?? '');
    this.problem.set(null);
    this.taking.set(null);
    this.editing.set(id);
  }

  protected beginTaking({ id }: { readonly id: string }): void {
    this.editing.set(null);
    this.problem.set(null);
    this.taking.set(id);
  }

  protected taken({ spelling, corrected, rows }: Taken): void {
    const means = meaningWords(spelling.list, spelling.means, this.words);
    const records = corrected === 1 ? '1 value was' : `${corrected} values were`;
    this.after.set({ rows, done: `“${spelling.written}” stands for ${means} from now on; ${records} corrected.` });
    this.spelled.set(spelling);
    this.taking.set(null);
  }

  protected takeBack({ list, written }: TakeBack): void {
    this.run(this.catalogue.takeBack({ list, written }), ({ restored, rows }) => {
      const records = restored === 1 ? '1 value is' : `${restored} values are`;
      this.after.set({ rows, done: `“${written}” is no spelling any more; ${records} as before.` });
    });
  }

  protected correct({ field, raw }: UnjudgedRow): void {
    this.run(this.catalogue.correct({ field, raw, value: this.typed() }), ({ corrected, rows }) => {
      this.after.set({ rows, done: `${corrected} ${corrected === 1 ? 'lead was' : 'leads were'} decided again.` });
    });
  }

  protected giveRate(currency: string): void {
    const rate = { currency, from: this.from(), rate: this.typed() };
    const wrong = problemIn(newRateSchema, rate);
    this.problem.set(wrong);
    if (wrong === null)
      this.run(this.catalogue.giveRate(rate), (given) => {
        this.rateGiven(given);
      });
  }

  protected rateGiven({ due, rates, rows }: RateGiven): void {
    this.changed.set(rates);
    const leads = due === 1 ? 'lead with such an amount is' : 'leads with such amounts are';
    this.after.set({ rows, done: `${due} open ${leads} decided again within a minute.` });
  }

  private run<T>(work: Observable<T>, then: (answer: T) => void): void {
    this.busy.set(true);
    this.spelled.set(null);
    work.subscribe({
      next: (answer) => {
        then(answer);
        this.busy.set(false);
        this.editing.set(null);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
        this.busy.set(false);
      },
    });
  }
}
