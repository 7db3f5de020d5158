import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { ProblemDocument, SuggestionRow } from '@relvik/contracts';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { pathOf } from '../wording/kind-words';
import { RecordService } from './record.service';

/** Contacts and companies that may be one: nothing is joined until somebody looks at the two. */
@Component({
  selector: 'rv-suggestions',
  imports: [AgoPipe, ProblemNote, RouterLink, Waiting],
  template: `
    <section class="page">
      <h1>Possible duplicates</h1>
      <p class="quiet">
        Two contacts or two companies that share a name or a mail domain and differ in the rest. Nothing is joined by
        itself: look at both, and join them or say that they are not the same.
      </p>
      <rv-problem-note [problem]="problem()" />
      @if (rows(); as all) {
        <table class="list">
          <thead>
            <tr>
              <th>Came first</th>
              <th>May be the same</th>
              <th>Noticed</th>
              <th></th>
            </tr>
          </thead>
          <tbody>
            @for (row of all; track row.id) {
              @let path = pathOf(row.kind);
              <tr>
                <td>
                  <a [routerLink]="[path, row.older.id]">{{ row.older.name }}</a>
                  <span class="quiet"> {{ row.kind }} {{ row.older.id }}</span>
                </td>
                <td>
                  <a [routerLink]="[path, row.younger.id]">{{ row.younger.name }}</a>
                  <span class="quiet"> {{ row.kind }} {{ row.younger.id }}</span>
                </td>
                <td>{{ row.at | ago }}</td>
                <td>
                  <a [routerLink]="[path, row.older.id]" [queryParams]="{ join: row.younger.id }">Look at joining…</a>
                  <button
                    type="button"
                    class="link"
                    [attr.aria-label]="row.kind + ' ' + row.younger.id + ' is not ' + row.older.id"
                    (click)="refuse(row.id)"
                  >
                    Not the same
                  </button>
                </td>
              </tr>
            } @empty {
              <tr>
                <td colspan="4" class="quiet">None: no two contacts or companies look like one.</td>
              </tr>
            }
          </tbody>
        </table>
      } @else {
        <rv-waiting [of]="loaded()" />
      }
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SuggestionsPage {
  private readonly records = inject(RecordService);
  protected readonly pathOf = pathOf;
  protected readonly loaded = toSignal(asLoaded(this.records.suggestions()), { initialValue: LOADING });
  private readonly left = signal<readonly SuggestionRow[] | null>(null);
  protected readonly rows = computed(() => this.left() ?? valueOf(this.loaded()));
  protected readonly problem = signal<ProblemDocument | null>(null);

  protected refuse(id: number): void {
    this.records.refuseSuggestion(id).subscribe({
      next: (rows) => {
        this.problem.set(null);
        this.left.set(rows);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
