import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { DatePipe } from '@angular/common';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { ProblemDocument, TaskRow } from '@relvik/contracts';
import { WORK_WORDS } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import type { Observable } from 'rxjs';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { pathOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { DueField } from './due-field';
import { DueLabel } from './due-label';
import { type TaskDraft, TaskForm } from './task-form';
import { TaskService } from './task.service';

/** The form that is open below a task. */
type Doing = 'done' | 'next' | 'later' | 'give';

/** Tasks, each with what can be done with it: done with a result, put off, given on, not needed any more. */
@Component({
  selector: 'rv-task-list',
  imports: [
    DatePipe,
    FormsModule,
    RouterLink,
    ButtonModule,
    InputTextModule,
    SelectModule,
    DueField,
    DueLabel,
    ProblemNote,
    TaskForm,
  ],
  templateUrl: './task-list.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TaskList {
  private readonly service = inject(TaskService);
  protected readonly words = inject(WordingService);
  readonly tasks = input.required<readonly TaskRow[]>();
  /** Whether each names its record; on the page of a record it does not. */
  readonly named = input(true);
  /** Whether each says who has it. */
  readonly owned = input(true);
  readonly people = input<readonly { readonly key: string; readonly name: string }[]>([]);
  readonly changed = output();

  protected readonly open = signal<{ readonly id: number; readonly doing: Doing } | null>(null);
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly choices = computed(() => [...this.people()]);
  protected readonly works = WORK_WORDS;
  protected readonly path = pathOf;
  protected result = '';

  protected ownerWords({ owner }: TaskRow): string {
    return owner === null ? 'nobody' : this.words.wording().names.rep(owner);
  }

  protected makerWords({ rule, madeBy }: TaskRow): string {
    if (rule === null) return `made by ${madeBy}`;
    const { names } = this.words.wording();
    const gate = names.gate(rule);
    return gate === rule ? `made by route “${names.route(rule)}”` : `made by gate “${gate}”`;
  }

  protected begin(task: TaskRow, doing: Doing): void {
    const { id, doing: now } = this.open() ?? {};
    if (doing === 'done') this.result = '';
    this.problem.set(null);
    this.open.set(id === task.id && now === doing ? null : { id: task.id, doing });
  }

  protected isDoing({ id }: TaskRow, ...of: readonly Doing[]): boolean {
    const now = this.open();
    return now?.id === id && of.includes(now.doing);
  }

  protected done(task: TaskRow, next: TaskDraft | null): void {
    this.run(this.service.end(task, { as: 'done', result: this.result.trim() || null, next }));
  }

  protected cancel(task: TaskRow): void {
    this.run(this.service.end(task, { as: 'cancelled' }));
  }

  protected putOff(task: TaskRow, due: number | null): void {
    if (due !== null) this.run(this.service.change(task, { due }));
  }

  protected give(task: TaskRow, owner: string): void {
    this.run(this.service.change(task, { owner }));
  }

  protected reopen(task: TaskRow): void {
    this.run(this.service.reopen(task));
  }

  private run(work: Observable<unknown>): void {
    if (this.busy()) return;
    this.busy.set(true);
    work.subscribe({
      next: () => {
        this.busy.set(false);
        this.open.set(null);
        this.problem.set(null);
        this.changed.emit();
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
        // Someone was quicker: what stands there now is shown.
        if (this.problem()?.status === 409 || this.problem()?.status === 404) this.changed.emit();
      },
    });
  }
}
