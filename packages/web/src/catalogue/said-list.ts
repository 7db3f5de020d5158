import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { ProblemDocument, SaidRow } from '@relvik/contracts';
import { AgoPipe } from '../api/ago.pipe';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { LeadService } from '../record/lead.service';
import { wayWords } from '../record/said-words';
import { shownAs } from '../wording/shown-as';
import { WordingService } from '../wording/wording.service';
import { CatalogueService } from './catalogue.service';

/** Values sent for open leads but not taken: to accept or to dismiss. Hidden where there are none. */
@Component({
  selector: 'rv-said-list',
  imports: [AgoPipe, ProblemNote, RouterLink],
  templateUrl: './said-list.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SaidList {
  private readonly catalogue = inject(CatalogueService);
  private readonly leads = inject(LeadService);
  private readonly words = inject(WordingService);
  private readonly said = signal<readonly SaidRow[]>([]);
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly rows = computed(() => {
    const { names, fields } = this.words.wording();
    return this.said().map((row) => {
      const field = fields.get(row.field);
      const shown = row.unreadable === null ? shownAs(field, row.shown) : row.shown;
      return { ...row, shown, known: shownAs(field, row.known), label: names.field(row.field), how: wayWords(row) };
    });
  });

  constructor() {
    this.catalogue
      .said()
      .pipe(takeUntilDestroyed())
      .subscribe({
        next: (rows) => {
          this.said.set(rows);
        },
        error: (error: unknown) => {
          this.problem.set(problemOf(error));
        },
      });
  }

  protected settle({ lead, field }: SaidRow, take: boolean): void {
    if (this.busy()) return;
    this.busy.set(true);
    this.leads.settleSaid(lead, field, take).subscribe({
      next: () => {
        this.busy.set(false);
        this.problem.set(null);
        this.said.update((rows) => rows.filter((row) => row.lead !== lead || row.field !== field));
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
