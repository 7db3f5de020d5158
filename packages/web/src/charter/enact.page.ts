import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { changesBetween } from '@relvik/core';
import { enactSchema, type Job, type ProblemDocument } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { ProgressBarModule } from 'primeng/progressbar';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { HomeService } from '../home/home.service';
import { WordingService } from '../record/wording.service';
import { CharterService } from './charter.service';

/** Puts the draft in force: what it changes, why, and the rescore's progress. */
@Component({
  selector: 'rv-enact',
  imports: [FormsModule, RouterLink, ButtonModule, InputTextModule, ProgressBarModule, ProblemNote],
  template: `
    <section class="page narrow">
      <h1>Enact</h1>
      @if (job(); as running) {
        <p role="status">
          @switch (running.state) {
            @case ('running') {
              Charter {{ running.charter }} is in force. All leads are being scored by it: {{ running.done }} of
              {{ running.total }}.
            }
            @case ('done') {
              Charter {{ running.charter }} is in force. All {{ running.total }} leads are scored by it;
              {{ running.changed }} changed their grade.
            }
            @case ('cancelled') {
              A newer charter came into force meanwhile; it scores the leads instead.
            }
            @case ('failed') {
              The rescore stopped; it is tried again by itself.
            }
          }
        </p>
        <p-progressbar [value]="percent()" aria-label="Progress of the rescore" />
        <p><a routerLink="/">Home</a> · <a routerLink="/leads">Leads</a></p>
      } @else if (charters.draft()) {
        @let draft = charters.draft();
        <p>
          The draft <b class="in-draft">{{ draft?.charter?.name }}</b> comes into force in place of
          <b>{{ charters.inForce()?.number }} · {{ charters.inForce()?.charter?.name }}</b
          >. From then on every decision uses it.
        </p>
        <p>
          All leads are scored and graded anew, at once and with progress. Nobody is moved to another stage or owner by
          that; what waits in the bay is tried again.
        </p>
        <h2>What changes</h2>
        <ul class="plain changes">
          @for (change of changes(); track $index) {
            <li>
              {{ change.what }}
              @if (change.from) {
                <s class="quiet">{{ change.from }}</s> →
              }
              <b class="in-draft">{{ change.to }}</b>
            </li>
          } @empty {
            <li class="quiet">Nothing: the draft is the same as what is in force.</li>
          }
        </ul>
        @if (draft?.stale) {
          <p class="problem">
            Another charter has come into force since this draft was made. Discard it and begin anew.
          </p>
        }
        <form (ngSubmit)="enact()" class="fields">
          <label for="reason">Why now</label>
          <input pInputText id="reason" name="reason" [(ngModel)]="reason" placeholder="One sentence for the journal" />
          <rv-problem-note [problem]="problem()" />
          <div class="buttons">
            <button pButton type="submit" class="enact" [disabled]="busy()">Enact {{ draft?.charter?.name }}</button>
            <button pButton type="button" [text]="true" (click)="discard()">Discard the draft</button>
          </div>
        </form>
      } @else {
        <p>There is no draft to enact. Begin one at the top right; it starts as a copy of what is in force.</p>
      }
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EnactPage {
  protected readonly charters = inject(CharterService);
  private readonly homes = inject(HomeService);
  private readonly words = inject(WordingService);
  protected readonly job = signal<Job | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly busy = signal(false);
  protected readonly percent = computed(() => {
    const job = this.job();
    return job === null ? 0 : Math.round((100 * job.done) / Math.max(1, job.total));
  });
  protected readonly changes = computed(() => {
    const [before, after] = [this.charters.inForce()?.charter, this.charters.draft()?.charter];
    return before && after ? changesBetween(before, after, this.words.wording()) : [];
  });
  protected reason = '';

  protected enact(): void {
    const wrong = problemIn(enactSchema, { version: this.charters.draft()?.version, reason: this.reason });
    this.problem.set(wrong);
    if (wrong !== null || this.busy()) return;
    this.busy.set(true);
    this.charters.enact(this.reason).subscribe({
      next: (job) => {
        this.job.set(job);
      },
      complete: () => {
        this.homes.load();
        this.words.load();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected discard(): void {
    this.charters.discardDraft().subscribe();
  }
}
