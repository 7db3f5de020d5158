import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { Router, RouterLink } from '@angular/router';
import type { ProblemDocument, QueueRow } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { PeopleService } from './people.service';

/** The queues of whoever is signed in: how many wait there, and the next to pick up. */
@Component({
  selector: 'rv-own-queues',
  imports: [RouterLink, ButtonModule, ProblemNote],
  template: `
    @for (queue of queues(); track queue.key) {
      <p class="own-queue">
        <b>{{ queue.name }}</b>
        <a routerLink="/leads" [queryParams]="{ queue: queue.key }">{{ queue.waiting }} waiting</a>
        @if (queue.mostHeld !== null) {
          <span class="quiet">you hold {{ queue.held }} of {{ queue.mostHeld }}</span>
        } @else if (queue.held > 0) {
          <span class="quiet">you hold {{ queue.held }}</span>
        }
        <button
          pButton
          type="button"
          size="small"
          [outlined]="true"
          [disabled]="busy() || queue.waiting === 0"
          (click)="pickNext(queue)"
        >
          Pick the next
        </button>
      </p>
    }
    <rv-problem-note [problem]="problem()" />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OwnQueues {
  private readonly service = inject(PeopleService);
  private readonly router = inject(Router);
  protected readonly queues = signal<readonly QueueRow[]>([]);
  protected readonly busy = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);

  constructor() {
    this.load();
  }

  private load(): void {
    this.service.people().subscribe({
      next: ({ queues }) => {
        this.queues.set(queues);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  protected pickNext({ key }: QueueRow): void {
    this.busy.set(true);
    this.service.pickNext(key).subscribe({
      next: ({ id }) => {
        void this.router.navigate(['/leads', id]);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
        this.load();
      },
    });
  }
}
