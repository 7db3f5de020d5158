import { ChangeDetectionStrategy, Component, computed, inject, linkedSignal } from '@angular/core';
import { takeUntilDestroyed, toObservable, toSignal } from '@angular/core/rxjs-interop';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import type { TaskPage, TaskQuery, TaskRow } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { combineLatest, interval, startWith, Subject, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { SessionService } from '../session/session.service';
import { DUE_HEADS, type DueGroup, dueGroup } from './due-words';
import { TakersService } from './takers.service';
import { TaskList } from './task-list';
import { TaskService } from './task.service';

/** Looked for others' work, ms. */
const AGAIN = 60_000;

type Shown = 'open' | 'overdue' | 'ended';

interface Group {
  readonly head: string;
  readonly key: DueGroup | 'ended';
  readonly tasks: readonly TaskRow[];
}

/** Tasks of the user, or of all in their sight, by when they are due. */
@Component({
  selector: 'rv-tasks',
  imports: [RouterLink, ButtonModule, TaskList, Waiting],
  templateUrl: './tasks.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TasksPage {
  private readonly service = inject(TaskService);
  private readonly sessions = inject(SessionService);
  private readonly router = inject(Router);
  private readonly route = inject(ActivatedRoute);
  protected readonly takers = inject(TakersService);

  private readonly params = toSignal(this.route.queryParamMap);
  protected readonly whose = computed((): 'mine' | 'seen' =>
    this.params()?.get('whose') === 'seen' ? 'seen' : 'mine',
  );
  protected readonly shown = computed((): Shown => {
    const asked = this.params()?.get('show');
    return asked === 'overdue' || asked === 'ended' ? asked : 'open';
  });
  protected readonly counts = this.service.counts;
  protected readonly seenWords = computed(() =>
    this.sessions.is('admin') ? 'Everybody’s' : this.sessions.session()?.role === 'manager' ? 'My teams’' : 'My team’s',
  );
  protected readonly marks = linkedSignal<string, readonly string[]>({
    source: () => `${this.whose()} ${this.shown()}`,
    computation: () => [],
  });

  private readonly again = new Subject<void>();
  private readonly query = computed((): TaskQuery => {
    const after = this.marks().at(-1);
    return {
      whose: this.whose(),
      state: this.shown() === 'ended' ? 'ended' : 'open',
      ...(this.shown() === 'overdue' ? { overdue: true } : {}),
      ...(after === undefined ? {} : { after }),
    };
  });
  protected readonly loaded = toSignal(
    combineLatest([toObservable(this.query), this.again.pipe(startWith(undefined))]).pipe(
      switchMap(([query]) => asLoaded(this.service.page(query))),
    ),
    { initialValue: LOADING },
  );
  /** Kept while it is loaded again, so that the page does not jump. */
  private kept: TaskPage | null = null;
  protected readonly page = computed(
    () => (this.kept = valueOf(this.loaded()) ?? (this.loaded().state === 'loading' ? this.kept : null)),
  );
  protected readonly groups = computed((): readonly Group[] => {
    const page = this.page();
    if (page === null || page.rows.length === 0) return [];
    if (this.shown() === 'ended') return [{ head: 'Done and cancelled', key: 'ended', tasks: page.rows }];
    const groups = new Map<DueGroup, TaskRow[]>();
    for (const task of page.rows) {
      const group = dueGroup(task.due, page.asOf);
      groups.set(group, [...(groups.get(group) ?? []), task]);
    }
    return [...groups].map(([key, tasks]) => ({ key, head: DUE_HEADS[key], tasks }));
  });

  constructor() {
    this.takers.load();
    interval(AGAIN)
      .pipe(takeUntilDestroyed())
      .subscribe(() => {
        this.again.next();
      });
  }

  protected ask(change: { readonly whose?: 'seen' | null; readonly show?: Shown | null }): void {
    void this.router.navigate([], { queryParams: change, queryParamsHandling: 'merge' });
  }

  protected reload(): void {
    this.again.next();
  }

  protected forward(next: string): void {
    this.marks.update((marks) => [...marks, next]);
  }

  protected back(): void {
    this.marks.update((marks) => marks.slice(0, -1));
  }
}
