import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, inject, input, linkedSignal, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { JoinPreview, LeadDetail, ProblemDocument } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import type { Observable } from 'rxjs';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { LeadService } from '../record/lead.service';
import { WordingService } from '../wording/wording.service';

/** Brings two leads of one person together: choose the other, see what would happen, say whose values count, join. */
@Component({
  selector: 'rv-join-leads',
  imports: [ButtonModule, DatePipe, FormsModule, InputTextModule, ProblemNote, RouterLink],
  template: `
    <div class="join" role="group" aria-label="Join with another lead">
      @if (preview(); as both) {
        <p>
          <a [routerLink]="['/leads', both.older.id]"
            >{{ both.older.name || both.older.company || 'No name' }} (lead {{ both.older.id }})</a
          >
          came first, {{ both.older.arrived | date: 'd MMM y' }}: it keeps its id, stage and place.
          <a [routerLink]="['/leads', both.younger.id]"
            >{{ both.younger.name || both.younger.company || 'No name' }} (lead {{ both.younger.id }})</a
          >
          goes into it with {{ both.activities }} {{ both.activities === 1 ? 'activity' : 'activities' }} and its
          history. It can be undone for ten days.
        </p>
        @if (both.fields.length > 0) {
          <table class="list">
            <thead>
              <tr>
                <th>Field</th>
                <th>Lead {{ both.older.id }}</th>
                <th>Lead {{ both.younger.id }}</th>
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
          <button pButton type="button" [disabled]="busy()" (click)="join()">Join the two</button>
          <button type="button" class="link" (click)="closed.emit()">Cancel</button>
        </div>
      } @else {
        <form (ngSubmit)="look()">
          <label for="join-with">Join with lead number</label>
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
export class JoinLeads {
  private readonly leads = inject(LeadService);
  protected readonly words = inject(WordingService);
  readonly lead = input.required<LeadDetail>();
  /** The other lead, where it is known already. */
  readonly other = input<number | null>(null);
  readonly busy = input.required<boolean>();
  readonly run = output<Observable<LeadDetail>>();
  readonly closed = output();

  protected readonly typed = linkedSignal(() => String(this.other() ?? ''));
  protected readonly preview = signal<JoinPreview | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  /** Fields in which the younger's value counts. */
  protected readonly taken = signal<ReadonlySet<string>>(new Set());

  protected look(): void {
    this.leads.joinPreview(this.lead().id, Number(this.typed())).subscribe({
      next: (preview) => {
        this.problem.set(null);
        // What came later is taken for what holds now, as far as it can be read.
        this.taken.set(new Set(preview.fields.flatMap(({ field, readable }) => (readable ? [field] : []))));
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

  protected join(): void {
    this.run.emit(this.leads.join(this.lead().id, Number(this.typed()), [...this.taken()]));
  }
}
