import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { COUNTRY_LIST, countryName, type Field, fold, regionsOf, splitChoices, takesAnyOption } from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { TagWords } from './tag-words';

const HINTS: { readonly [T in Field['type']]: string } = {
  text: '',
  number: '',
  money: 'such as 20000 EUR',
  choice: '',
  choices: '',
  'yes-no': '',
  date: 'YYYY-MM-DD',
  email: '',
  country: '',
  region: 'its name or code, such as California or US-CA',
  'postal-code': '',
};

/** One field to fill in, with the control that suits its type. */
@Component({
  selector: 'rv-value-field',
  imports: [FormsModule, InputTextModule, MultiSelectModule, SelectModule, TagWords],
  template: `
    @if (several(); as chosen) {
      @if (open()) {
        <rv-tag-words
          [inputId]="id()"
          [label]="field().name"
          [words]="chosen"
          (changed)="changed.emit($event.join('; '))"
        />
      } @else {
        <p-multiselect
          [inputId]="id()"
          [ariaLabel]="field().name"
          [options]="options() ?? []"
          optionLabel="label"
          optionValue="value"
          [filter]="(options() ?? []).length > 12"
          [showToggleAll]="false"
          display="chip"
          placeholder="None chosen"
          [ngModel]="chosen"
          (ngModelChange)="changed.emit(($event ?? []).join('; '))"
        />
      }
    } @else if (options(); as list) {
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
  readonly field = input.required<Pick<Field, 'key' | 'name' | 'type' | 'options' | 'retiredOptions' | 'ownRegions'>>();
  readonly value = input.required<string>();
  /** The country of the record, alpha-2: its regions are offered. Empty: not known. */
  readonly country = input('');
  readonly changed = output<string>();

  /** The options chosen; null: it holds one value. */
  protected readonly several = computed(() => (this.field().type === 'choices' ? splitChoices(this.value()) : null));
  protected readonly open = computed(() => takesAnyOption(this.field()));
  protected readonly hint = computed(() => HINTS[this.field().type]);
  protected readonly options = computed(() => {
    const list = this.known();
    if (list === null) return null;
    const offered = new Set(list.map((option) => option.value));
    // A value that can't be chosen stays visible until someone chooses another.
    const held = this.several() ?? (this.value() === '' ? [] : [this.value()]);
    return [
      ...list,
      ...held.filter((one) => !offered.has(one)).map((one) => ({ label: this.notOffered(one), value: one })),
    ];
  });

  private notOffered(value: string): string {
    const isRetired = (this.field().retiredOptions ?? []).some((option) => fold(option) === fold(value));
    return `${value} (${isRetired ? 'no longer offered' : 'can’t be read'})`;
  }

  private known(): { label: string; value: string }[] | null {
    const { type, options, ownRegions } = this.field();
    switch (type) {
      case 'choice':
      case 'choices':
        return options.map((option) => ({ label: option, value: option }));
      case 'yes-no':
        return [
          { label: 'Yes', value: 'yes' },
          { label: 'No', value: 'no' },
        ];
      case 'country':
        return COUNTRY_LIST.map(({ code }) => ({ label: countryName(code), value: code }));
      case 'region': {
        const regions = regionsOf(this.country(), ownRegions);
        return regions.length === 0 ? null : regions.map(({ code, name }) => ({ label: name, value: code }));
      }
      default:
        return null;
    }
  }
}
