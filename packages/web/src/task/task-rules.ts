import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { TASK_WORK, type TaskRule, type TaskWork, WORK_WORDS } from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';

const FIRST: TaskRule = { title: 'Ring them', work: 'call', minutes: 240, working: true };
const MOST = 10;

/** How the time of a task is counted: in the owner's working hours, in hours, or in minutes of either. */
type Unit = 'working-hours' | 'working-minutes' | 'hours' | 'days';
const UNITS: Readonly<Record<Unit, { readonly label: string; readonly minutes: number; readonly working: boolean }>> = {
  'working-hours': { label: 'working hours', minutes: 60, working: true },
  'working-minutes': { label: 'working minutes', minutes: 1, working: true },
  hours: { label: 'hours', minutes: 60, working: false },
  days: { label: 'days', minutes: 1440, working: false },
};

function unitOf({ minutes, working }: TaskRule): Unit {
  if (working) return minutes % 60 === 0 ? 'working-hours' : 'working-minutes';
  return minutes > 0 && minutes % 1440 === 0 ? 'days' : 'hours';
}

/** Edits the tasks that a gate or route makes for the owner. */
@Component({
  selector: 'rv-task-rules',
  imports: [FormsModule, InputTextModule, SelectModule],
  template: `
    @for (rule of tasks(); track $index; let i = $index) {
      <div class="joint">
        <span>{{ i === 0 ? lead() : 'and' }}</span>
        <p-select
          [ariaLabel]="'Kind of task ' + (i + 1) + ' of ' + of()"
          [options]="works"
          optionLabel="label"
          optionValue="value"
          [ngModel]="rule.work"
          (ngModelChange)="change(i, { work: $event })"
        />
        <input
          pInputText
          class="task-title"
          maxlength="200"
          [attr.aria-label]="'Task ' + (i + 1) + ' of ' + of()"
          [ngModel]="rule.title"
          [ngModelOptions]="{ updateOn: 'blur' }"
          (ngModelChange)="rename(i, $event)"
        />
        <span class="quiet">due in</span>
        <input
          pInputText
          class="task-time"
          type="number"
          min="0"
          [attr.aria-label]="'Time for task ' + (i + 1) + ' of ' + of()"
          [ngModel]="many(rule)"
          [ngModelOptions]="{ updateOn: 'blur' }"
          (ngModelChange)="last(i, rule, $event)"
        />
        <p-select
          [ariaLabel]="'Unit of the time for task ' + (i + 1) + ' of ' + of()"
          [options]="units"
          optionLabel="label"
          optionValue="value"
          [ngModel]="unit(rule)"
          (ngModelChange)="count(i, rule, $event)"
        />
        <button
          type="button"
          class="link"
          [attr.aria-label]="'Make no task ' + (i + 1) + ' by ' + of()"
          (click)="takeOut(i)"
        >
          ×
        </button>
      </div>
    }
    @if (tasks().length < most) {
      <div class="joint"><button type="button" class="link" (click)="add()">+ make a task</button></div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TaskRules {
  readonly tasks = input.required<readonly TaskRule[]>();
  /** The name of the gate or route. */
  readonly of = input.required<string>();
  /** The words before the first. */
  readonly lead = input.required<string>();
  readonly changed = output<readonly TaskRule[]>();

  protected readonly most = MOST;
  protected readonly unit = unitOf;
  protected readonly works = TASK_WORK.map((value: TaskWork) => ({ value, label: WORK_WORDS[value] }));
  protected readonly units = (Object.keys(UNITS) as Unit[]).map((value) => ({ value, label: UNITS[value].label }));

  protected many(rule: TaskRule): number {
    return rule.minutes / UNITS[unitOf(rule)].minutes;
  }

  protected rename(at: number, title: string): void {
    if (title.trim() !== '') this.change(at, { title: title.trim() });
  }

  protected last(at: number, rule: TaskRule, many: number | null): void {
    if (many !== null && many >= 0) this.change(at, { minutes: Math.round(many * UNITS[unitOf(rule)].minutes) });
  }

  /** The number stays, and counts in the other unit from now on. */
  protected count(at: number, rule: TaskRule, unit: Unit): void {
    const { minutes, working } = UNITS[unit];
    this.change(at, { minutes: Math.round(this.many(rule) * minutes), working });
  }

  protected change(at: number, part: Partial<TaskRule>): void {
    this.changed.emit(this.tasks().map((one, i) => (i === at ? { ...one, ...part } : one)));
  }

  protected takeOut(at: number): void {
    this.changed.emit(this.tasks().filter((_, i) => i !== at));
  }

  protected add(): void {
    this.changed.emit([...this.tasks(), FIRST]);
  }
}
