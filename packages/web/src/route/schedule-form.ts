import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { DAY_MINUTES, EVERY_MINUTES, minutesOfDay, type Schedule, scheduleWords, WEEKDAYS } from '@relvik/core';
import { SelectModule } from 'primeng/select';

const KINDS: readonly { readonly value: Schedule['kind'] | 'never'; readonly label: string }[] = [
  { value: 'never', label: 'never by the clock' },
  { value: 'every', label: 'every so often' },
  { value: 'daily', label: 'every day' },
  { value: 'weekly', label: 'once a week' },
];

/** When a stream runs by itself. */
@Component({
  selector: 'rv-schedule-form',
  imports: [FormsModule, SelectModule],
  template: `
    <p-select
      [ariaLabel]="'When ' + name() + ' runs'"
      [options]="kinds"
      optionLabel="label"
      optionValue="value"
      [ngModel]="schedule()?.kind ?? 'never'"
      (ngModelChange)="change($event)"
    />
    @if (minutes(); as own) {
      <p-select
        [ariaLabel]="'How often ' + name() + ' runs'"
        [options]="lengths"
        optionLabel="label"
        optionValue="value"
        [ngModel]="own"
        (ngModelChange)="changed.emit({ kind: 'every', minutes: $event })"
      />
    }
    @if (day(); as own) {
      <p-select
        [ariaLabel]="'Day on which ' + name() + ' runs'"
        [options]="days"
        optionLabel="label"
        optionValue="value"
        [ngModel]="own"
        (ngModelChange)="changed.emit({ kind: 'weekly', day: $event, at: time() ?? '' })"
      />
    }
    @if (time(); as own) {
      <label
        >at
        <input
          #clock
          class="value-field clock-field"
          placeholder="02:00"
          [attr.aria-label]="'Time at which ' + name() + ' runs'"
          [attr.aria-invalid]="wrong()"
          [value]="own"
          (input)="wrong.set(false)"
          (change)="setTime(clock.value)"
      /></label>
      <span class="quiet">{{ zone() }}</span>
    }
    @if (wrong()) {
      <span class="wrong" role="alert">A time of day is written 02:00</span>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScheduleForm {
  readonly schedule = input.required<Schedule | null>();
  /** Of the stream. */
  readonly name = input.required<string>();
  /** The zone of its clock. */
  readonly zone = input.required<string>();
  readonly changed = output<Schedule | null>();

  protected readonly wrong = signal(false);
  protected readonly kinds = [...KINDS];
  protected readonly lengths = EVERY_MINUTES.map((minutes) => ({
    value: minutes,
    label: scheduleWords({ kind: 'every', minutes }),
  }));
  protected readonly days = WEEKDAYS.map((label, i) => ({ value: i + 1, label }));
  protected readonly minutes = computed(() => {
    const own = this.schedule();
    return own?.kind === 'every' ? own.minutes : null;
  });
  protected readonly day = computed(() => {
    const own = this.schedule();
    return own?.kind === 'weekly' ? own.day : null;
  });
  protected readonly time = computed(() => {
    const own = this.schedule();
    return own === null || own.kind === 'every' ? null : own.at;
  });

  protected change(kind: Schedule['kind'] | 'never'): void {
    const at = this.time() ?? '02:00';
    this.wrong.set(false);
    switch (kind) {
      case 'never':
        this.changed.emit(null);
        return;
      case 'every':
        this.changed.emit({ kind, minutes: 60 });
        return;
      case 'daily':
        this.changed.emit({ kind, at });
        return;
      case 'weekly':
        this.changed.emit({ kind, day: 1, at });
    }
  }

  protected setTime(text: string): void {
    const at = text.trim();
    const minutes = minutesOfDay(at);
    this.wrong.set(minutes === null || minutes === DAY_MINUTES);
    const own = this.schedule();
    if (this.wrong() || own === null || own.kind === 'every') return;
    this.changed.emit({ ...own, at });
  }
}
