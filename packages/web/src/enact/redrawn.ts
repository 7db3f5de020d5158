import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ProblemDocument, Redraw, RedrawChoice } from '@relvik/contracts';
import type { Observable } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { countOf } from '../wording/kind-words';
import { RedrawService } from './redraw.service';
import { WordingService } from '../wording/wording.service';

/** Leads with an owner whose territory changed when the charter came into force: keep their owners, or hand them on. */
@Component({
  selector: 'rv-redrawn',
  imports: [AgoPipe, DecimalPipe, RouterLink, ProblemNote],
  template: `
    @if (redraw(); as now) {
      @if (now.chosen; as chosen) {
        <p role="status">
          Since charter {{ now.charter }} came into force: {{ words(chosen.choice, chosen.handedOn) }}
          <span class="quiet">{{ chosen.by }}, {{ chosen.at | ago }}</span>
          <button type="button" class="link" [disabled]="busy()" (click)="undo(now.charter)">Undo</button>
        </p>
      } @else if (now.leads > 0) {
        <section class="redrawn">
          <h2>
            After the redraw
            <span class="quiet">
              since charter {{ now.charter }} came into force {{ now.leads | number }} open
              {{ now.leads === 1 ? 'lead with an owner lies' : 'leads with an owner lie' }} in another territory
            </span>
          </h2>
          <div class="joint">
            <button type="button" class="choice" [disabled]="busy()" (click)="choose(now.charter, 'keep')">
              Keep them where they are
            </button>
            <button type="button" class="choice" [disabled]="busy()" (click)="choose(now.charter, 'all')">
              Hand on all {{ now.leads | number }}
            </button>
            <button
              type="button"
              class="choice"
              [disabled]="busy() || now.untouched === 0"
              (click)="choose(now.charter, 'untouched')"
            >
              Hand on the {{ now.untouched | number }} whose owner has not called, mailed or met them yet
            </button>
          </div>
          <p class="quiet">
            Routes give them to whom they do now; a lead that no route takes, or for which nobody is free, stays. It can
            be undone.
          </p>
          <table class="list">
            <thead>
              <tr>
                <th>Lead</th>
                <th>Owner</th>
                <th>Territory</th>
                <th>Since it was assigned</th>
              </tr>
            </thead>
            <tbody>
              @for (one of rows(); track one.id) {
                <tr>
                  <td>
                    <a [routerLink]="['/leads', one.id]">{{ one.name || 'Lead ' + one.id }}</a>
                  </td>
                  <td>{{ one.whose }}</td>
                  <td>
                    {{ one.was }} → <b>{{ one.is }}</b>
                  </td>
                  <td class="quiet">{{ one.untouched ? 'nothing yet' : 'called, mailed or met' }}</td>
                </tr>
              }
            </tbody>
          </table>
          @if (now.leads > rows().length) {
            <p class="quiet">and {{ now.leads - rows().length | number }} more</p>
          }
        </section>
      }
    }
    <rv-problem-note [problem]="problem()" />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Redrawn {
  private readonly redraws = inject(RedrawService);
  private readonly wording = inject(WordingService);
  protected readonly redraw = signal<Redraw | null>(null);
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);

  protected readonly rows = computed(() => {
    const { names } = this.wording.wording();
    const place = (key: string | null): string => (key === null ? 'open ground' : names.territory(key));
    return (this.redraw()?.some ?? []).map((one) => ({
      ...{ ...one, whose: names.rep(one.owner) },
      ...{ was: place(one.from), is: place(one.to) },
    }));
  });

  constructor() {
    this.run(this.redraws.latest());
  }

  protected words(choice: RedrawChoice, handedOn: number): string {
    return choice === 'keep'
      ? 'leads that lie in another territory stay with their owners.'
      : `${countOf('lead', handedOn)} handed on.`;
  }

  protected choose(charter: number, choice: RedrawChoice): void {
    this.run(this.redraws.choose({ charter, choice }));
  }

  protected undo(charter: number): void {
    this.run(this.redraws.undo(charter));
  }

  private run(work: Observable<Redraw>): void {
    this.busy.set(true);
    work.subscribe({
      next: (redraw) => {
        this.redraw.set(redraw);
        this.busy.set(false);
        this.problem.set(null);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
        this.busy.set(false);
      },
    });
  }
}
