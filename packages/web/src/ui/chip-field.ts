import { ChangeDetectionStrategy, ChangeDetectorRef, Component, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { fold } from '@relvik/core';
import { AutoCompleteModule } from 'primeng/autocomplete';

/** A value that can be chosen, and how many records have it. */
export interface Offered {
  readonly value: string;
  readonly label: string;
  readonly count: number;
}

/** The most suggestions shown at a time. */
const SUGGESTED = 60;

/** Pasted text as values: one a line, or between tabs or semicolons, without blanks and repetitions. */
export function pastedValues(text: string): string[] {
  return [...new Set(text.split(/[\n\r\t;]+/).map((value) => value.trim()))].filter(Boolean);
}

/** Several values: each a chip that can be taken out; more are chosen, typed, or pasted as a column. */
@Component({
  selector: 'rv-chip-field',
  imports: [FormsModule, AutoCompleteModule],
  template: `
    <span class="values-field">
      @for (one of chosen(); track one.value) {
        <button
          type="button"
          class="value-chip"
          [attr.aria-label]="'Take out ' + one.label"
          (click)="takeOut(one.value)"
        >
          {{ one.label }} <span aria-hidden="true">×</span>
        </button>
      }
      <p-autocomplete
        [inputId]="inputId()"
        [ariaLabel]="label()"
        [placeholder]="placeholder()"
        [emptyMessage]="emptyMessage()"
        [minQueryLength]="0"
        [completeOnFocus]="true"
        [suggestions]="suggested()"
        optionLabel="label"
        [(ngModel)]="adding"
        [ngModelOptions]="{ standalone: true }"
        (completeMethod)="suggest($event.query)"
        (onSelect)="pick($event.value)"
        (paste)="paste($event)"
        (keydown.enter)="enter($event)"
      >
        <ng-template #item let-one
          ><span class="offered"
            ><span>{{ one.label }}</span> <span class="quiet">{{ one.count || '' }}</span></span
          ></ng-template
        >
      </p-autocomplete>
    </span>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChipField {
  private readonly marker = inject(ChangeDetectorRef);
  readonly inputId = input<string>();
  readonly label = input.required<string>();
  readonly placeholder = input('');
  readonly emptyMessage = input('No match');
  /** All that can be chosen, in the order in which it is suggested. */
  readonly offered = input.required<readonly Offered[]>();
  readonly chosen = input.required<readonly Pick<Offered, 'value' | 'label'>[]>();
  readonly changed = output<readonly string[]>();

  protected adding: string | Offered = '';
  protected readonly suggested = signal<Offered[]>([]);
  private picked = false;

  protected suggest(typed: string): void {
    const begun = fold(typed);
    const chosen = new Set(this.chosen().map(({ value }) => fold(value)));
    this.suggested.set(
      this.offered()
        .filter(({ value, label }) => !chosen.has(fold(value)) && fold(label).includes(begun))
        .slice(0, SUGGESTED),
    );
  }

  /** One of what is offered was chosen. */
  protected pick(one: Offered): void {
    this.picked = true;
    this.add([one.value]);
  }

  /** Enter takes what was typed, whether or not it is among what is offered. */
  protected enter(event: Event): void {
    const typed = (event.target as HTMLInputElement).value.trim();
    if (!this.picked && typed !== '') {
      event.preventDefault();
      this.add([this.offered().find(({ label }) => fold(label) === fold(typed))?.value ?? typed]);
    }
    this.picked = false;
  }

  protected paste(event: ClipboardEvent): void {
    const values = pastedValues(event.clipboardData?.getData('text') ?? '');
    if (values.length < 2) return;
    event.preventDefault();
    this.add(values);
  }

  protected takeOut(value: string): void {
    this.changed.emit(this.values().filter((one) => one !== value));
  }

  private values(): string[] {
    return this.chosen().map(({ value }) => value);
  }

  private add(values: readonly string[]): void {
    this.changed.emit([...new Set([...this.values(), ...values])]);
    // The field is emptied once the library has written into it what was chosen.
    setTimeout(() => {
      this.adding = '';
      this.marker.markForCheck();
    });
  }
}
