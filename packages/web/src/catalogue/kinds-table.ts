import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { type KindRow, newKindSchema, type NewKind, type ProblemDocument } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import type { Observable } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { CatalogueService } from './catalogue.service';

const BY = [
  { value: 'them', label: 'they do it' },
  { value: 'us', label: 'we do it' },
];

/** Kinds of activities: the standard ones, and the admin's own. */
@Component({
  selector: 'rv-kinds-table',
  imports: [DecimalPipe, FormsModule, ButtonModule, InputTextModule, SelectModule, ProblemNote, Waiting],
  template: `
    <h2>Kinds of activities <span class="quiet">silence is broken by what they do, not by what we do</span></h2>
    @if (kinds(); as list) {
      <table class="list">
        <thead>
          <tr>
            <th>Kind</th>
            <th>Key</th>
            <th>Who does it</th>
            <th class="number">Happened</th>
            <th></th>
          </tr>
        </thead>
        <tbody>
          @for (kind of list; track kind.key) {
            <tr [class.off]="kind.retired">
              <td>
                <input
                  #name
                  class="value-field kind-name"
                  [attr.aria-label]="'Name of ' + kind.key"
                  [value]="kind.name"
                  (change)="rename(kind, name.value)"
                />
                @if (!kind.standard) {
                  <span class="quiet">added here</span>
                }
              </td>
              <td class="code">{{ kind.key }}</td>
              <td>{{ kind.by === 'us' ? 'we' : 'they' }}</td>
              <td class="number">{{ kind.count | number }}</td>
              <td>
                <button
                  type="button"
                  class="link"
                  [attr.aria-label]="(kind.retired ? 'Use again: ' : 'Retire ') + kind.name"
                  (click)="change(kind, kind.name, !kind.retired)"
                >
                  {{ kind.retired ? 'Use it again' : 'Retire' }}
                </button>
              </td>
            </tr>
          }
        </tbody>
      </table>
      <form class="joint" (ngSubmit)="add()">
        <input pInputText name="kind-name" aria-label="Name of a new kind" placeholder="New kind" [(ngModel)]="name" />
        <input
          pInputText
          name="kind-key"
          class="code"
          aria-label="Key of a new kind"
          placeholder="key"
          [(ngModel)]="key"
        />
        <p-select
          ariaLabel="Who does it"
          name="kind-by"
          [options]="by"
          optionLabel="label"
          optionValue="value"
          [(ngModel)]="who"
        />
        <button pButton type="submit" [outlined]="true">Add the kind</button>
      </form>
      <rv-problem-note [problem]="problem()" />
    } @else {
      <rv-waiting [of]="loaded()" />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class KindsTable {
  private readonly catalogue = inject(CatalogueService);
  protected readonly loaded = toSignal(asLoaded(this.catalogue.kinds()), { initialValue: LOADING });
  private readonly after = signal<KindRow[] | null>(null);
  protected readonly kinds = computed(() => this.after() ?? valueOf(this.loaded()));
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly by = BY;
  protected name = '';
  protected key = '';
  protected who: NewKind['by'] = 'them';

  protected rename(kind: KindRow, name: string): void {
    if (name.trim() !== kind.name) this.change(kind, name, kind.retired);
  }

  protected change(kind: KindRow, name: string, retired: boolean): void {
    this.run(this.catalogue.changeKind(kind.key, { name, retired }));
  }

  protected add(): void {
    const kind: NewKind = { key: this.key, name: this.name, by: this.who };
    const wrong = problemIn(newKindSchema, kind);
    this.problem.set(wrong);
    if (wrong !== null) return;
    this.run(this.catalogue.addKind(kind), () => {
      [this.name, this.key] = ['', ''];
    });
  }

  private run(work: Observable<KindRow[]>, done: () => void = () => undefined): void {
    work.subscribe({
      next: (kinds) => {
        this.after.set(kinds);
        this.problem.set(null);
        done();
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
