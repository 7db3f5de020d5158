import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { ProblemDocument, SpellingRow, SpellingsFile, SpellingsRead } from '@relvik/contracts';
import { readCsv, writeCsv } from '@relvik/formats';
import { ButtonModule } from 'primeng/button';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { chosenFile, saveFile } from '../ui/save-file';
import { WordingService } from '../wording/wording.service';
import { CatalogueService } from './catalogue.service';
import { OwnRegions } from './own-regions';
import { listWords, meaningWords } from './spelling-words';

const COLUMNS = ['list', 'written', 'means'] as const;

/** Spellings of options, countries and regions, in and out as CSV, and regions of the admin's own. */
@Component({
  selector: 'rv-spellings',
  imports: [DecimalPipe, RouterLink, ButtonModule, OwnRegions, ProblemNote, Waiting],
  templateUrl: './spellings.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SpellingsPage {
  private readonly catalogue = inject(CatalogueService);
  private readonly words = inject(WordingService);
  protected readonly loaded = toSignal(asLoaded(this.catalogue.spellings()), { initialValue: LOADING });
  private readonly after = signal<readonly SpellingRow[] | null>(null);
  private readonly spellings = computed(() => this.after() ?? valueOf(this.loaded()));
  protected readonly rows = computed(() => {
    const { names } = this.words.wording();
    return (
      this.spellings()?.map((row) => ({
        ...{ ...row, id: `${row.list} ${row.written}`, listed: listWords(row.list, names) },
        meant: meaningWords(row.list, row.means, this.words),
      })) ?? null
    );
  });
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly done = signal<string | null>(null);
  /** A file that was read, with what it would change. */
  protected readonly file = signal<(SpellingsFile & { readonly read: SpellingsRead }) | null>(null);

  protected takeBack({ list, written }: SpellingRow): void {
    this.begin();
    this.catalogue.takeBack({ list, written }).subscribe({
      next: ({ restored, spellings }) => {
        const values = restored === 1 ? '1 value that it corrected is' : `${restored} values that it corrected are`;
        this.end(spellings, `“${written}” is no spelling any more; ${values} as before.`);
      },
      error: this.fail,
    });
  }

  protected export(): void {
    const rows = (this.spellings() ?? []).map((row) => COLUMNS.map((column) => row[column]));
    saveFile('spellings.csv', writeCsv({ header: COLUMNS, rows }), 'text/csv');
  }

  protected async choose(input: HTMLInputElement): Promise<void> {
    const text = await chosenFile(input);
    if (text === null) return;
    this.begin();
    const reading = readCsv(text);
    const missing = reading.ok ? COLUMNS.filter((column) => !reading.table.header.includes(column)) : [];
    if (!reading.ok || missing.length > 0) {
      const errors = reading.ok
        ? [{ path: '', message: `the column ${missing.join(' and ')} is missing` }]
        : reading.problems.map(({ row, message }) => ({ path: `/row ${row}`, message }));
      this.problem.set({ type: 'about:blank', status: 422, title: 'The file can’t be read', errors });
      this.busy.set(false);
      return;
    }
    const { header, rows } = reading.table;
    const cell = (row: readonly string[], column: string): string => row[header.indexOf(column)] ?? '';
    this.read({
      rows: rows.map((row) => ({ list: cell(row, 'list'), written: cell(row, 'written'), means: cell(row, 'means') })),
      apply: false,
    });
  }

  protected apply(): void {
    const file = this.file();
    if (file === null) return;
    this.begin();
    this.read({ rows: file.rows, apply: true });
  }

  private read(file: SpellingsFile): void {
    this.catalogue.spellingsFile(file).subscribe({
      next: (read) => {
        const { fresh, changed, corrected, spellings } = read;
        this.end(
          spellings,
          file.apply
            ? `${fresh} spellings added, ${changed.length} changed; ${corrected} values were corrected.`
            : null,
        );
        this.file.set(file.apply ? null : { ...file, read });
      },
      error: this.fail,
    });
  }

  private begin(): void {
    this.busy.set(true);
    this.problem.set(null);
    this.done.set(null);
    this.file.set(null);
  }

  private end(spellings: readonly SpellingRow[], done: string | null): void {
    this.busy.set(false);
    this.after.set(spellings);
    this.done.set(done);
  }

  private readonly fail = (error: unknown): void => {
    this.busy.set(false);
    this.problem.set(problemOf(error));
  };
}
