import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { PropertyTest } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { NO_VALUE } from './test-kinds';

const ASKED: readonly { readonly value: PropertyTest['test']; readonly label: string }[] = [
  { value: 'is', label: 'is' },
  { value: 'contains', label: 'contains' },
  { value: 'starts-with', label: 'starts with' },
  { value: 'ends-with', label: 'ends with' },
];

/** What an activity signal asks of the properties of an activity: the page visited, the mail clicked. */
@Component({
  selector: 'rv-property-tests',
  imports: [FormsModule, SelectModule],
  template: `
    @for (one of tests(); track $index) {
      <div class="joint">
        <span>and its</span>
        <input
          #property
          class="value-field property"
          aria-label="Property"
          [value]="one.property"
          (change)="change($index, { property: keyOf(property.value) })"
        />
        <p-select
          ariaLabel="Question about the property"
          [options]="asked"
          optionLabel="label"
          optionValue="value"
          [ngModel]="one.test"
          (ngModelChange)="change($index, { test: $event })"
        />
        <input
          #values
          class="value-field texts"
          aria-label="Texts, separated by commas"
          placeholder="a text, or several with commas"
          [value]="shown(one)"
          (change)="change($index, { values: textsIn(values.value) })"
        />
        <button
          type="button"
          class="link"
          [attr.aria-label]="'Remove the question about ' + one.property"
          (click)="remove($index)"
        >
          Remove
        </button>
      </div>
    }
    <button type="button" class="link" (click)="add()">+ only those whose property …</button>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PropertyTests {
  readonly tests = input.required<readonly PropertyTest[]>();
  readonly changed = output<readonly PropertyTest[]>();
  protected readonly asked = [...ASKED];

  protected shown({ values }: PropertyTest): string {
    return values.filter((value) => value !== NO_VALUE).join(', ');
  }

  /** A property's key, however it was typed. */
  protected keyOf(typed: string): string {
    return (
      typed
        .trim()
        .toLowerCase()
        .replaceAll(/[^a-z0-9_]+/g, '_')
        .replace(/^_+|_+$/g, '') || 'page'
    );
  }

  protected textsIn(typed: string): readonly string[] {
    const texts = typed
      .split(',')
      .map((text) => text.trim())
      .filter(Boolean);
    return texts.length > 0 ? texts : [NO_VALUE];
  }

  protected change(at: number, change: Partial<PropertyTest>): void {
    this.changed.emit(this.tests().map((one, i) => (i === at ? { ...one, ...change } : one)));
  }

  protected remove(at: number): void {
    this.changed.emit(this.tests().filter((_, i) => i !== at));
  }

  protected add(): void {
    this.changed.emit([...this.tests(), { property: 'page', test: 'contains', values: [NO_VALUE] }]);
  }
}
