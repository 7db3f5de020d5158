import { ChangeDetectionStrategy, Component, computed, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { readSpans, spansText, WEEKDAYS, type WorkHours } from '@relvik/core';
import { SelectModule } from 'primeng/select';

const OFFICE = [1, 2, 3, 4, 5].map((day) => ({ day, from: '09:00', to: '17:00' }));

/** Weekly hours in a time zone: one field a day, `09:00-12:00, 13:00-17:00`; empty is a day off. */
@Component({
  selector: 'rv-hours-form',
  imports: [FormsModule, SelectModule],
  template: `
    <label><input type="checkbox" [checked]="hours() !== null" (change)="turn()" /> {{ label() }}</label>
    @if (hours(); as own) {
      <p-select
        ariaLabel="Time zone"
        [filter]="true"
        [virtualScroll]="true"
        [virtualScrollItemSize]="32"
        [options]="zones"
        [ngModel]="own.timeZone"
        [ngModelOptions]="{ standalone: true }"
        (ngModelChange)="changed.emit({ timeZone: $event, weekly: own.weekly })"
      />
      <span class="week">
        @for (day of days(); track day.name) {
          <label
            >{{ day.name }}
            <input
              #field
              class="value-field"
              placeholder="off"
              [attr.aria-invalid]="wrong() === day.number"
              [attr.aria-label]="'Hours on ' + day.name"
              [value]="day.text"
              (input)="wrong.set(null)"
              (change)="say(day.number, field.value)"
          /></label>
        }
      </span>
      @if (wrong() !== null) {
        <span class="wrong" role="alert">Hours are written 09:00-12:00, 13:00-17:00</span>
      }
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class HoursForm {
  readonly hours = input.required<WorkHours | null>();
  readonly label = input.required<string>();
  readonly changed = output<WorkHours | null>();
  /** The day whose hours can't be read. */
  protected readonly wrong = signal<number | null>(null);

  protected readonly zones = [...new Set(['UTC', ...Intl.supportedValuesOf('timeZone')])];
  protected readonly days = computed(() => {
    const weekly = this.hours()?.weekly ?? [];
    return WEEKDAYS.map((name, i) => ({
      ...{ name, number: i + 1 },
      text: spansText(weekly.filter(({ day }) => day === i + 1)),
    }));
  });

  protected turn(): void {
    const timeZone = Intl.DateTimeFormat().resolvedOptions().timeZone;
    this.changed.emit(this.hours() === null ? { timeZone, weekly: OFFICE } : null);
  }

  protected say(day: number, text: string): void {
    const spans = readSpans(text);
    const hours = this.hours();
    this.wrong.set(spans === null ? day : null);
    if (spans === null || hours === null) return;
    const others = (hours.weekly ?? []).filter((span) => span.day !== day);
    const weekly = [...others, ...spans.map((span) => ({ day, ...span }))].sort(
      (a, b) => a.day - b.day || (a.from < b.from ? -1 : 1),
    );
    this.changed.emit({ ...hours, weekly });
  }
}
