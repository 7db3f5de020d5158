import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { startWith, Subject, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { dueGroup } from './due-words';
import { TaskList } from './task-list';
import { TaskService } from './task.service';

const MOST = 6;

/** The first of the user's own tasks: what is overdue, and what is due today. */
@Component({
  selector: 'rv-my-tasks',
  imports: [RouterLink, TaskList],
  template: `
    @if (now().length > 0) {
      <h2>
        To do now
        <a class="quiet" routerLink="/tasks">{{ more() > 0 ? more() + ' more' : 'all tasks' }}</a>
      </h2>
      <rv-task-list [tasks]="now()" [owned]="false" (changed)="again.next()" />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class MyTasks {
  private readonly service = inject(TaskService);
  protected readonly again = new Subject<void>();
  private readonly loaded = toSignal(
    this.again.pipe(
      startWith(undefined),
      switchMap(() => asLoaded(this.service.page({ whose: 'mine', state: 'open' }))),
    ),
    { initialValue: LOADING },
  );
  private readonly due = computed(() => {
    const page = valueOf(this.loaded());
    return (page?.rows ?? []).filter((task) => ['overdue', 'today'].includes(dueGroup(task.due, page?.asOf ?? 0)));
  });
  protected readonly now = computed(() => this.due().slice(0, MOST));
  protected readonly more = computed(() => this.due().length - this.now().length);
}
