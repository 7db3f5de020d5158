import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import type { BackgroundState, DoctorFinding, ProblemDocument } from '@relvik/contracts';
import { exhaustMap, filter, type Observable, takeWhile, timer } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, LOADING, type Loaded, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { WordingService } from '../wording/wording.service';
import { BackgroundService } from './background.service';
import { RECORD_KINDS, type RecordKind } from '@relvik/core';
import { pathOf, pluralOf } from '../wording/kind-words';

/** While records are to be looked at the page asks again so often, ms. */
const LOOK = 2000;

const WORKS: Readonly<Record<string, string>> = {
  outbox: 'Sending notices',
  rescore: 'Rescore',
  import: 'File import',
  time: 'Scores that time changes',
  records: 'Contacts, companies and deals',
  'contact-scores': 'Values and scores of contacts',
  'company-scores': 'Values and scores of companies',
  'deal-scores': 'Scores of deals',
  ties: 'Leads whose company or contact changed',
  bay: 'Letting leads leave the bay',
  overdue: 'Leads that no manager handed on in time',
  schedules: 'Running streams by their schedules',
  'bay-alarm': 'Telling operations of long waits in the bay',
  deputies: 'Deputies who take leads over and give them back',
  doctor: 'Check of the data',
  forget: 'Clearing what is kept for a time',
};

const NOTICES: Readonly<Record<string, string>> = {
  assigned: 'Lead assigned',
  'in-queue': 'Lead in a queue',
  'last-resort': 'Lead that no route takes',
  bay: 'Lead in the bay',
  'nobody-has-skill': 'Lead that asks for a skill nobody has',
  'waits-long': 'Lead that has waited long in the bay',
  graded: 'Lead with another verdict',
  rescored: 'Rescore done',
  imported: 'File taken in',
};

/** Background work: what waits to leave, what keeps failing and can be tried again, and what the nightly check found. */
@Component({
  selector: 'rv-background',
  imports: [AgoPipe, DatePipe, DecimalPipe, ProblemNote, RouterLink, Waiting],
  templateUrl: './background.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BackgroundPage {
  private readonly service = inject(BackgroundService);
  protected readonly words = inject(WordingService);
  protected readonly loaded = signal<Loaded<BackgroundState>>(LOADING);
  protected readonly state = computed(() => valueOf(this.loaded()));
  protected readonly problem = signal<ProblemDocument | null>(null);

  constructor() {
    timer(0, LOOK)
      .pipe(
        exhaustMap(() => asLoaded(this.service.state())),
        filter(({ state }) => state !== 'loading'),
        takeWhile((one) => one.state === 'failed' || this.dueIn(valueOf(one)) > 0, true),
        takeUntilDestroyed(),
      )
      .subscribe((state) => {
        this.loaded.set(state);
      });
  }

  private dueIn(state: BackgroundState | null): number {
    return RECORD_KINDS.reduce((sum, kind) => sum + (state?.due[kind] ?? 0), 0);
  }

  protected workName(work: string): string {
    return WORKS[work] ?? work;
  }

  protected readonly pathOf = pathOf;
  protected readonly kinds = RECORD_KINDS;
  protected readonly pluralOf = pluralOf;

  /** The kind of the records that a work is about. */
  protected kindOf(work: string): RecordKind {
    return RECORD_KINDS.find((kind) => work === `${kind}-scores`) ?? 'lead';
  }

  protected noticeName(notice: string): string {
    return NOTICES[notice] ?? notice;
  }

  /** Whom a notice is for. */
  protected toName(to: string | null): string {
    if (to === null) return 'the admins';
    const { names } = this.words.wording();
    const queue = names.queue(to);
    return queue === to ? names.rep(to) : `queue ${queue}`;
  }

  protected isLead({ check }: DoctorFinding): boolean {
    return check !== 'wrong-load';
  }

  protected sendAgain(id: number): void {
    this.run(this.service.sendAgain(id));
  }

  protected tryAgain(work: string, record: number | null): void {
    this.run(this.service.tryAgain(work, record));
  }

  private run(work: Observable<BackgroundState>): void {
    work.subscribe({
      next: (value) => {
        this.problem.set(null);
        this.loaded.set({ state: 'ready', value });
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
