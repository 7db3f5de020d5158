import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { COUNTRY_LIST, countryName, type Field } from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';

const HINTS: { readonly [T in Field['type']]: string } = {
  text: '',
  number: '',
  money: 'such as 20000 EUR',
  choice: '',
  'yes-no': '',
  date: 'YYYY-MM-DD',
  email: '',
  country: '',
};

/** One field to fill in, with the control that suits its type. */
@Component({
  selector: 'rv-value-field',
  imports: [FormsModule, InputTextModule, SelectModule],
  template: `
    @if (options(); as list) {
      <p-select
        [inputId]="id()"
        [ariaLabel]="field().name"
        [options]="list"
        optionLabel="label"
        optionValue="value"
        [filter]="list.length > 12"
        [showClear]="true"
        placeholder="Not given"
        [ngModel]="value() || null"
        (ngModelChange)="changed.emit($event ?? '')"
      />
    } @else {
      <input
        pInputText
        [id]="id()"
        [attr.aria-label]="field().name"
        [type]="field().type === 'date' ? 'date' : 'text'"
        [inputMode]="field().type === 'number' ? 'decimal' : 'text'"
        [placeholder]="hint()"
        [ngModel]="value()"
        (ngModelChange)="changed.emit($event)"
      />
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ValueField {
  readonly id = input.required<string>();
  readonly field = input.required<Pick<Field, 'key' | 'name' | 'type' | 'options'>>();
  readonly value = input.required<string>();
  readonly changed = output<string>();

  protected readonly hint = computed(() => HINTS[this.field().type]);
  protected readonly options = computed(() => {
    const list = this.known();
    const value = this.value();
    // What can't be read stays visible until someone chooses something else.
    return list === null || value === '' || list.some((option) => option.value === value)
      ? list
      : [...list, { label: `${value} (can’t be read)`, value }];
  });

  private known(): { label: string; value: string }[] | null {
    const { type, options } = this.field();
    switch (type) {
      case 'choice':
        return options.map((option) => ({ label: option, value: option }));
      case 'yes-no':
        return [
          { label: 'Yes', value: 'yes' },
          { label: 'No', value: 'no' },
        ];
      case 'country':
        return COUNTRY_LIST.map(({ code }) => ({ label: countryName(code), value: code }));
      default:
        return null;
    }
  }
}
