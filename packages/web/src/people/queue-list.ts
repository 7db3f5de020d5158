import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ChangeQueue, People } from '@relvik/contracts';
import type { Observable } from 'rxjs';
import { freshKey } from '../ui/fresh-key';
import { PeopleService } from './people.service';
import { QueueEditor } from './queue-editor';
import { QUEUE_ORDER_WORDS } from './queue-words';

/** The queues: who picks up, in which order, and how many one may hold. */
@Component({
  selector: 'rv-queue-list',
  imports: [RouterLink, QueueEditor],
  template: `
    <h2>Queues <span class="quiet">their members pick up</span></h2>
    <table class="list">
      <thead>
        <tr>
          <th>Queue</th>
          <th>Members</th>
          <th>Next is</th>
          <th class="number">One holds</th>
          <th class="number">Waiting</th>
          @if (admin()) {
            <th></th>
          }
        </tr>
      </thead>
      <tbody>
        @for (queue of queues(); track queue.key) {
          <tr>
            <td>{{ queue.name }}</td>
            <td>{{ queue.names }}</td>
            <td class="quiet">{{ queue.next }}</td>
            <td class="number">{{ queue.mostHeld ?? '' }}</td>
            <td class="number">
              <a routerLink="/leads" [queryParams]="{ queue: queue.key }">{{ queue.waiting }}</a>
            </td>
            @if (admin()) {
              <td>
                <button
                  type="button"
                  class="link"
                  [attr.aria-label]="'Edit queue ' + queue.name"
                  (click)="editing.set(editing() === queue.key ? null : queue.key)"
                >
                  Edit
                </button>
              </td>
            }
          </tr>
          @if (editing() === queue.key) {
            <tr class="editing-row">
              <td colspan="6">
                <rv-queue-editor
                  [queue]="queue"
                  [people]="people()"
                  (saved)="save(queue.key, $event)"
                  (removed)="run(service.removeQueue(queue.key))"
                  (cancelled)="editing.set(null)"
                />
              </td>
            </tr>
          }
        } @empty {
          <tr>
            <td colspan="5" class="quiet">You belong to no queue.</td>
          </tr>
        }
      </tbody>
    </table>
    @if (admin()) {
      <form class="joint" (submit)="add(fresh.value); fresh.value = ''; $event.preventDefault()">
        <input #fresh class="value-field" aria-label="Name of a new queue" placeholder="Night desk" />
        <button type="submit" class="link">+ queue</button>
      </form>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QueueList {
  protected readonly service = inject(PeopleService);
  readonly people = input.required<People>();
  readonly admin = input.required<boolean>();
  /** A change that is on its way to the server. */
  readonly changing = output<Observable<People>>();
  protected readonly editing = signal<string | null>(null);

  protected readonly queues = computed(() => {
    const { queues, people } = this.people();
    return queues.map((queue) => ({
      ...queue,
      names: queue.members
        .map((key) => people.find((person) => person.key === key)?.name)
        .filter(Boolean)
        .join(', '),
      next: QUEUE_ORDER_WORDS[queue.order],
    }));
  });

  protected run(change: Observable<People>): void {
    this.changing.emit(change);
    this.editing.set(null);
  }

  protected save(key: string, change: ChangeQueue): void {
    this.run(this.service.changeQueue(key, change));
  }

  protected add(name: string): void {
    if (name.trim() === '') return;
    const key = freshKey(
      'queue',
      this.people().queues.map((one) => one.key),
    );
    this.run(this.service.changeQueue(key, { name: name.trim(), order: 'oldest', mostHeld: null, members: [] }));
  }
}
