import { ChangeDetectionStrategy, Component, computed, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { ChangeQueue, People, QueueRow } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { QUEUE_ORDER_WORDS } from './queue-words';

/** Edits a queue: its name, what is picked next, how many one may hold, and who picks up. */
@Component({
  selector: 'rv-queue-editor',
  imports: [FormsModule, ButtonModule, MultiSelectModule, SelectModule],
  template: `
    <form class="editor at-once" (ngSubmit)="saved.emit(form())" (keydown.escape)="cancelled.emit()">
      <div class="joint">
        <input
          #name
          class="value-field"
          aria-label="Name of the queue"
          [value]="form().name"
          (change)="set({ name: name.value })"
        />
        <span class="quiet">next is</span>
        <p-select
          ariaLabel="What is picked next"
          [options]="orders"
          optionLabel="label"
          optionValue="value"
          [ngModel]="form().order"
          [ngModelOptions]="{ standalone: true }"
          (ngModelChange)="set({ order: $event })"
        />
        <label
          >one person holds at most
          <input
            #most
            type="number"
            min="1"
            class="value-field hours-field"
            aria-label="Most held by one person"
            placeholder="any"
            [value]="form().mostHeld ?? ''"
            (change)="setMost(most.value)"
        /></label>
      </div>
      <div class="joint">
        <span class="quiet">picked up by</span>
        <p-multiselect
          ariaLabel="Who picks up"
          [filter]="true"
          [options]="choices()"
          optionLabel="name"
          optionValue="key"
          [maxSelectedLabels]="6"
          [ngModel]="form().members"
          [ngModelOptions]="{ standalone: true }"
          (ngModelChange)="set({ members: $event })"
        />
        <p-button type="submit" label="Save" size="small" />
        <button type="button" class="link" (click)="cancelled.emit()">Cancel</button>
        <button type="button" class="link" (click)="removed.emit()">Take the queue out</button>
      </div>
    </form>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class QueueEditor {
  readonly queue = input.required<QueueRow>();
  readonly people = input.required<People>();
  readonly saved = output<ChangeQueue>();
  readonly removed = output();
  readonly cancelled = output();

  protected readonly orders = Object.entries(QUEUE_ORDER_WORDS).map(([value, label]) => ({ value, label }));
  protected readonly form = linkedSignal((): ChangeQueue => {
    const { name, order, mostHeld, members } = this.queue();
    return { name, order, mostHeld, members };
  });
  protected readonly choices = computed(() => [...this.people().people]);

  protected set(change: Partial<ChangeQueue>): void {
    this.form.update((form) => ({ ...form, ...change }));
  }

  protected setMost(text: string): void {
    this.set({ mostHeld: text.trim() === '' ? null : Number(text) });
  }
}
