import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { ProblemDocument, TaskRow } from '@relvik/contracts';
import { catchError, combineLatest, forkJoin, map, of, startWith, Subject, switchMap } from 'rxjs';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { TakersService } from './takers.service';
import { type TaskDraft, TaskForm } from './task-form';
import { TaskList } from './task-list';
import { TaskService } from './task.service';

/** The tasks of one record, open and ended. */
@Component({
  selector: 'rv-record-tasks',
  imports: [ProblemNote, TaskForm, TaskList],
  template: `
    <h2>
      To do
      @if (!adding()) {
        <button type="button" class="link add-task" (click)="adding.set(true)">+ task</button>
      }
    </h2>
    @if (adding()) {
      <rv-task-form [busy]="busy()" [choices]="takers.people()" (saved)="make($event)" (closed)="adding.set(false)" />
    }
    <rv-problem-note [problem]="problem()" />
    <rv-task-list [tasks]="open()" [named]="false" [people]="takers.people()" (changed)="reload()" />
    @if (loaded() && open().length === 0 && !adding()) {
      <p class="quiet">Nothing is to be done.</p>
    }
    @if (ended().length > 0) {
      <details class="ended-tasks">
        <summary>{{ ended().length === 1 ? '1 task that ended' : ended().length + ' tasks that ended' }}</summary>
        <rv-task-list [tasks]="ended()" [named]="false" [owned]="false" (changed)="reload()" />
      </details>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordTasks {
  private readonly service = inject(TaskService);
  protected readonly takers = inject(TakersService);
  readonly record = input.required<number>();
  /** Of the record: with a change of it its tasks may have moved or ended. */
  readonly version = input.required<number>();

  /** A task was made, changed or ended: the history of the record has a line more. */
  readonly changed = output();

  private readonly again = new Subject<void>();
  private readonly tasks = signal<{ readonly open: readonly TaskRow[]; readonly ended: readonly TaskRow[] } | null>(
    null,
  );
  protected readonly loaded = computed(() => this.tasks() !== null);
  protected readonly open = computed(() => this.tasks()?.open ?? []);
  protected readonly ended = computed(() => this.tasks()?.ended ?? []);
  protected readonly adding = signal(false);
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);

  constructor() {
    this.takers.load();
    combineLatest([toObservable(this.record), toObservable(this.version), this.again.pipe(startWith(undefined))])
      .pipe(
        switchMap(([record]) =>
          forkJoin({
            open: this.service.page({ record, state: 'open' }),
            ended: this.service.page({ record, state: 'ended' }),
          }).pipe(
            map(({ open, ended }) => ({ open: open.rows, ended: ended.rows })),
            catchError((error: unknown) => {
              this.problem.set(problemOf(error));
              return of(null);
            }),
          ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((tasks) => {
        this.tasks.set(tasks);
      });
  }

  protected reload(): void {
    this.again.next();
    this.changed.emit();
  }

  protected make(task: TaskDraft): void {
    this.busy.set(true);
    this.service.make({ ...task, record: this.record() }).subscribe({
      next: () => {
        this.busy.set(false);
        this.adding.set(false);
        this.problem.set(null);
        this.reload();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
