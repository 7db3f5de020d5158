import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { enactSchema, type Job, type ProblemDocument } from '@relvik/contracts';
import {
  type BroughtUpToDate,
  changesBetween,
  type EnactScope,
  findingWords,
  isError,
  placeInCharter,
  type Reach,
} from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { ProgressBarModule } from 'primeng/progressbar';
import { SelectModule } from 'primeng/select';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { HomeService } from '../home/home.service';
import { REACH_CHOICES, SCOPE_CHOICES, scopeNamed } from '../impact/enact-choices';
import { ImpactService } from '../impact/impact.service';
import { WordingService } from '../wording/wording.service';
import { CharterService } from '../charter/charter.service';
import { Redrawn } from './redrawn';
import { GateOutlook } from './gate-outlook';
import { RescoreService } from './rescore.service';

const REACH_WORDS: { readonly [R in Reach]: string } = {
  score:
    'Score and grade are recalculated. Nobody is moved to another stage or owner by that; what waits in the bay is tried again.',
  gates: 'Gates are asked too: leads may move to another stage. Nobody is given to an owner by that.',
  routes: 'Gates are asked, and whatever has no owner is routed by the new routes. Who has an owner keeps them.',
};

/** Puts the draft in force: what it changes, for whom, how far and why; and the rescore's progress. */
@Component({
  selector: 'rv-enact',
  imports: [
    DatePipe,
    DecimalPipe,
    FormsModule,
    RouterLink,
    ButtonModule,
    InputTextModule,
    ProgressBarModule,
    GateOutlook,
    ProblemNote,
    Redrawn,
    SelectModule,
  ],
  templateUrl: './enact.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class EnactPage {
  protected readonly charters = inject(CharterService);
  private readonly rescores = inject(RescoreService);
  protected readonly impacts = inject(ImpactService);
  private readonly homes = inject(HomeService);
  private readonly words = inject(WordingService);
  protected readonly job = signal<Job | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly busy = signal(false);
  protected readonly merged = signal<(BroughtUpToDate & { readonly base: number }) | null>(null);
  protected readonly scopes = [...SCOPE_CHOICES];
  protected readonly reaches = [...REACH_CHOICES];
  protected readonly scopeName = signal('all');
  protected readonly reach = signal<Reach>('score');
  /** Whether those that are let through get the tasks that gates and routes make. */
  protected readonly tasks = signal(true);
  protected readonly scope = computed((): EnactScope => scopeNamed(this.scopeName()));
  protected readonly reachWords = computed(() => REACH_WORDS[this.reach()]);
  protected readonly percent = computed(() => {
    const job = this.job();
    return job === null ? 0 : job.state === 'done' ? 100 : Math.round((100 * job.done) / Math.max(1, job.total));
  });
  protected readonly changes = computed(() => {
    const [before, after] = [this.charters.inForce()?.charter, this.charters.draft()?.charter];
    return before && after ? changesBetween(before, after, this.words.wordingOf(after)) : [];
  });
  protected readonly effects = computed(() =>
    this.impacts.reading().kind === 'on-enact' ? this.impacts.impact() : null,
  );
  protected reason = '';

  /** What the draft shows by itself: of its parts, and of its routes. */
  protected readonly findings = computed(() => {
    const draft = this.charters.draft();
    if (draft === null) return [];
    const wording = this.words.wordingOf(draft.charter);
    return [...draft.findings, ...this.impacts.findings()].map((finding) => {
      const route = finding.code === 'route-never-reached' ? `${wording.names.route(finding.route)}: ` : '';
      return { words: `${route}${findingWords(finding, wording)}`, error: isError(finding) };
    });
  });

  constructor() {
    this.impacts.want();
    effect(() => {
      this.impacts.impact();
      untracked(() => void this.impacts.find().catch(() => undefined));
    });
    effect(() => {
      this.impacts.reading.set({ kind: 'on-enact', reach: this.reach(), scope: this.scope() });
    });
    // Someone who comes back finds the rescore that still runs.
    this.rescores
      .progress()
      .pipe(takeUntilDestroyed())
      .subscribe((job) => {
        if (job.state === 'running' || this.job() !== null) this.job.set(job);
      });
  }

  protected enact(): void {
    const how = { reason: this.reason, scope: this.scope(), reach: this.reach(), tasks: this.tasks() };
    const wrong = problemIn(enactSchema, { ...how, version: this.charters.draft()?.version });
    this.problem.set(wrong);
    if (wrong !== null || this.busy()) return;
    this.busy.set(true);
    this.rescores.enact(how).subscribe({
      next: (job) => {
        this.job.set(job);
      },
      complete: () => {
        this.busy.set(false);
        this.homes.load();
        this.words.load();
        this.impacts.refresh();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }

  protected cancel(job: number): void {
    this.rescores.cancel(job).subscribe({
      next: (stopped) => {
        this.job.set(stopped);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  /** Where both changed the same, and to what where that is one word or number. */
  protected readonly clashes = computed(() => {
    const merged = this.merged();
    return (merged?.clashes ?? []).map(({ path, inForce, draft }) => {
      const { words } = placeInCharter(merged?.charter, path);
      const isPlain = [inForce, draft].every((value) => typeof value === 'string' || typeof value === 'number');
      return isPlain ? `${words}: ${String(draft)} in yours, ${String(inForce)} in force` : words;
    });
  });

  protected bringUpToDate(): void {
    const draft = this.charters.draft();
    if (draft)
      this.charters.upToDate(draft.id).subscribe({
        next: (merged) => {
          this.merged.set(merged);
        },
        error: (error: unknown) => {
          this.problem.set(problemOf(error));
        },
      });
  }

  protected takeUpdate(): void {
    const merged = this.merged();
    if (merged !== null)
      this.charters.takeUpToDate(merged.charter, merged.base).subscribe(() => {
        this.merged.set(null);
      });
  }

  protected discard(id: number): void {
    this.charters.discardDraft(id).subscribe();
  }
}
