import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { newTaskSchema, type NewTask, type ProblemDocument } from '@relvik/contracts';
import { TASK_WORK, type TaskWork } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { DueField } from './due-field';

export type TaskDraft = Pick<NewTask, 'title' | 'work' | 'due' | 'owner'>;

const WORKS: readonly { readonly value: TaskWork; readonly label: string }[] = TASK_WORK.map((value) => ({
  value,
  label: { call: 'Call', mail: 'Mail', meeting: 'Meeting', other: 'Other' }[value],
}));

/** Asks what is to be done, by when, and by whom. */
@Component({
  selector: 'rv-task-form',
  imports: [FormsModule, ButtonModule, InputTextModule, SelectModule, DueField, ProblemNote],
  template: `
    <form class="task-form" (ngSubmit)="save()" (keydown.escape)="closed.emit()">
      <p-select
        ariaLabel="Kind of work"
        name="work"
        [options]="works"
        optionLabel="label"
        optionValue="value"
        [(ngModel)]="work"
      />
      <input
        pInputText
        class="what"
        name="title"
        aria-label="What is to be done"
        placeholder="What is to be done"
        [(ngModel)]="title"
      />
      <span class="quiet">by</span>
      <rv-due-field [at]="due()" (changed)="due.set($event)" />
      @if (people().length > 0) {
        <p-select
          ariaLabel="Who does it"
          name="owner"
          placeholder="its owner"
          [filter]="true"
          [showClear]="true"
          [options]="people()"
          optionLabel="name"
          optionValue="key"
          [(ngModel)]="owner"
        />
      }
      <button pButton type="submit" [disabled]="busy()">{{ verb() }}</button>
      <button type="button" class="link" (click)="closed.emit()">Cancel</button>
    </form>
    <rv-problem-note [problem]="wrong()" />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TaskForm {
  readonly busy = input.required<boolean>();
  /** Those to whom it can be given; empty: nobody is asked. */
  readonly choices = input<readonly { readonly key: string; readonly name: string }[]>([]);
  readonly verb = input('Add the task');
  readonly saved = output<TaskDraft>();
  readonly closed = output();

  protected readonly works = [...WORKS];
  protected readonly people = computed(() => [...this.choices()]);
  protected readonly due = signal<number | null>(null);
  protected readonly wrong = signal<ProblemDocument | null>(null);
  protected work: TaskWork = 'call';
  protected title = '';
  protected owner: string | null = null;

  protected save(): void {
    const task = { title: this.title, work: this.work, due: this.due() ?? undefined };
    // Of which record it is, is known where it is sent.
    const wrong = problemIn(newTaskSchema, { ...task, record: 1 });
    this.wrong.set(wrong);
    if (wrong === null)
      this.saved.emit({ ...(task as TaskDraft), ...(this.owner === null ? {} : { owner: this.owner }) });
  }
}
