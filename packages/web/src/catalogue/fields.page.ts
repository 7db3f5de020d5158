import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import { type FieldRow, newFieldSchema, type NewField, type ProblemDocument } from '@relvik/contracts';
import { type Field, FIELD_TYPES, type FieldType, takesAnyOption } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { TextareaModule } from 'primeng/textarea';
import type { Observable } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { CatalogueService } from './catalogue.service';
import { KindsTable } from './kinds-table';

const TYPE_WORDS: { readonly [T in FieldType]: string } = {
  text: 'text',
  number: 'number',
  money: 'amount of money',
  choice: 'choice from a list',
  choices: 'several from a list',
  'yes-no': 'yes or no',
  date: 'day',
  email: 'e-mail',
  country: 'country',
};

/** The options that were typed, one a line. */
export function optionsIn(text: string): string[] {
  return text
    .split('\n')
    .map((line) => line.trim())
    .filter(Boolean);
}

/** A key made of a name, for whoever does not think of one. */
export function keyFrom(name: string): string {
  const words = name
    .normalize('NFKD')
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '');
  return words.slice(0, 48);
}

/** The fields of leads and their lists of options, and the kinds of activities: usable at once, everywhere. */
@Component({
  selector: 'rv-fields',
  imports: [
    DecimalPipe,
    FormsModule,
    RouterLink,
    ButtonModule,
    CheckboxModule,
    InputTextModule,
    SelectModule,
    TextareaModule,
    KindsTable,
    ProblemNote,
    Waiting,
  ],
  templateUrl: './fields.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldsPage {
  private readonly catalogue = inject(CatalogueService);
  protected readonly loaded = toSignal(asLoaded(this.catalogue.fields()), { initialValue: LOADING });
  private readonly after = signal<FieldRow[] | null>(null);
  protected readonly fields = computed(() => this.after() ?? valueOf(this.loaded()));

  protected readonly types = FIELD_TYPES.map((value) => ({ value, label: TYPE_WORDS[value] }));
  protected readonly editing = signal<string | null>(null);
  protected readonly adding = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected name = '';
  protected key = '';
  protected type: FieldType = 'text';
  protected options = '';
  protected personal = false;

  /** Whether the admin says what can be chosen. */
  protected hasOptions(field: Pick<Field, 'key' | 'type'>): boolean {
    return (field.type === 'choice' || field.type === 'choices') && !takesAnyOption(field);
  }

  protected optionWords(field: Field): string {
    const retired = (field.retiredOptions ?? []).map((option) => `${option} (retired)`);
    return [...field.options, ...retired].join(', ');
  }

  protected typeWords(type: FieldType): string {
    return TYPE_WORDS[type];
  }

  /** An e-mail tells who someone is, unless one says otherwise. */
  protected typed(type: FieldType): void {
    this.type = type;
    if (type === 'email') this.personal = true;
  }

  protected begin(): void {
    this.editing.set(null);
    this.problem.set(null);
    [this.name, this.key, this.type, this.options, this.personal] = ['', '', 'text', '', false];
    this.adding.set(true);
  }

  protected named(name: string): void {
    const followed = this.key === keyFrom(this.name);
    this.name = name;
    if (followed) this.key = keyFrom(name);
  }

  protected add(): void {
    const { key, name, type, personal } = this;
    const field: NewField = { key, name, type, options: optionsIn(this.options), personal };
    const wrong = problemIn(newFieldSchema, field);
    this.problem.set(wrong);
    if (wrong === null) this.run(this.catalogue.addField(field));
  }

  protected edit(field: FieldRow): void {
    this.adding.set(false);
    this.problem.set(null);
    [this.name, this.options, this.personal] = [field.name, field.options.join('\n'), field.personal ?? false];
    this.editing.set(field.key);
  }

  protected save(field: FieldRow, retired = field.retired): void {
    this.run(
      this.catalogue.changeField(field.key, {
        name: this.name,
        options: optionsIn(this.options),
        retired,
        personal: this.personal,
      }),
    );
  }

  private run(work: Observable<FieldRow[]>): void {
    work.subscribe({
      next: (fields) => {
        this.after.set(fields);
        this.editing.set(null);
        this.adding.set(false);
        this.problem.set(null);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
