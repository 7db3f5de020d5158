import { DatePipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { JoinPreview, LeadRow, ProblemDocument, RecordRow } from '@relvik/contracts';
import type { RecordKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import type { Observable } from 'rxjs';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { pathOf, singularHeadingOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';

/** A join that was decided on: with whom, and the fields in which the younger's value counts. */
export interface Join {
  readonly other: number;
  readonly take: readonly string[];
}

/** Brings two records of one kind together that are one: choose the other, see what would happen, say whose values count, join. */
@Component({
  selector: 'rv-join-two',
  imports: [ButtonModule, DatePipe, FormsModule, InputTextModule, ProblemNote, RouterLink],
  template: `
    <div class="join" role="group" [attr.aria-label]="'Join with another ' + kind()">
      @if (preview(); as both) {
        <p>
          <a [routerLink]="[path(), both.older.id]">{{ nameOf(both.older) }} ({{ kind() }} {{ both.older.id }})</a>
          came first, {{ both.older.arrived | date: 'd MMM y' }}: it keeps its {{ kept() }}.
          <a [routerLink]="[path(), both.younger.id]"
            >{{ nameOf(both.younger) }} ({{ kind() }} {{ both.younger.id }})</a
          >
          goes into it with {{ both.activities }} {{ both.activities === 1 ? 'activity' : 'activities' }} and
          {{ kind() === 'lead' ? 'its history' : 'all that hangs on it' }}. It can be undone for ten days.
        </p>
        @if (both.fields.length > 0) {
          <table class="list">
            <thead>
              <tr>
                <th>Field</th>
                <th>{{ heading() }} {{ both.older.id }}</th>
                <th>{{ heading() }} {{ both.younger.id }}</th>
              </tr>
            </thead>
            <tbody>
              @for (one of both.fields; track one.field) {
                @let name = words.wording().names.field(one.field);
                <tr>
                  <td>{{ name }}</td>
                  @if (one.older === null) {
                    <td class="quiet">nothing</td>
                    <td>
                      <b>{{ one.younger }}</b>
                    </td>
                  } @else {
                    <td>
                      <label
                        ><input
                          type="radio"
                          [name]="'take-' + one.field"
                          [checked]="!taken().has(one.field)"
                          (change)="take(one.field, false)"
                          [attr.aria-label]="name + ': keep ' + one.older"
                        />
                        {{ one.older }}</label
                      >
                    </td>
                    <td>
                      <label
                        ><input
                          type="radio"
                          [name]="'take-' + one.field"
                          [checked]="taken().has(one.field)"
                          (change)="take(one.field, true)"
                          [attr.aria-label]="name + ': take ' + one.younger"
                        />
                        {{ one.younger }}</label
                      >
                    </td>
                  }
                </tr>
              }
            </tbody>
          </table>
        }
        <div class="buttons">
          <button pButton type="button" [disabled]="busy()" (click)="joinBoth()">Join the two</button>
          <button type="button" class="link" (click)="closed.emit()">Cancel</button>
        </div>
      } @else {
        <form (ngSubmit)="look()">
          <label for="join-with">Join with {{ kind() }} number</label>
          <input pInputText id="join-with" name="join-with" inputmode="numeric" [(ngModel)]="typed" />
          <button pButton type="submit" [outlined]="true" [disabled]="!typed()">Show what would happen</button>
          <button type="button" class="link" (click)="closed.emit()">Cancel</button>
        </form>
      }
      <rv-problem-note [problem]="problem()" />
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class JoinTwo {
  protected readonly words = inject(WordingService);
  readonly kind = input.required<RecordKind>();
  /** Asks what joining with the other would do. */
  readonly ask = input.required<(other: number) => Observable<JoinPreview<LeadRow | RecordRow>>>();
  /** The other record, where it is known already. */
  readonly other = input<number | null>(null);
  readonly busy = input.required<boolean>();
  readonly join = output<Join>();
  readonly closed = output();

  protected readonly path = computed(() => pathOf(this.kind()));
  protected readonly heading = computed(() => singularHeadingOf(this.kind()));
  protected readonly kept = computed(() => (this.kind() === 'lead' ? 'id, stage and place' : 'id'));
  protected readonly typed = linkedSignal(() => String(this.other() ?? ''));
  protected readonly preview = signal<JoinPreview<LeadRow | RecordRow> | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  /** Fields in which the younger's value counts. */
  protected readonly taken = signal<ReadonlySet<string>>(new Set());

  protected nameOf(row: { readonly name: string; readonly company?: string }): string {
    return row.name || row.company || 'No name';
  }

  protected look(): void {
    this.ask()(Number(this.typed())).subscribe({
      next: (preview) => {
        this.problem.set(null);
        this.taken.set(new Set(preview.fields.filter(({ takesYounger }) => takesYounger).map(({ field }) => field)));
        this.preview.set(preview);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  protected take(field: string, younger: boolean): void {
    this.taken.update((chosen) => {
      const next = new Set(chosen);
      if (younger) next.add(field);
      else next.delete(field);
      return next;
    });
  }

  protected joinBoth(): void {
    this.join.emit({ other: Number(this.typed()), take: [...this.taken()] });
  }
}
