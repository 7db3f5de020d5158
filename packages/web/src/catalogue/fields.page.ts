import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import { type FieldRow, newFieldSchema, type OptionListRow, type ProblemDocument } from '@relvik/contracts';
import { bareKey, type Field, kindOfField, RECORD_KINDS, type RecordKind, roleOf } from '@relvik/core';
import { catchError, type Observable, of } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { problemIn } from '../api/problem-in';
import { Waiting } from '../api/waiting';
import { headingOf, pluralOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { CatalogueService } from './catalogue.service';
import { FieldEditor } from './field-editor';
import { changedField, EMPTY_FORM, type FieldForm, formOf, newField, ROLE_WORDS, TYPE_WORDS } from './field-form';
import { KindsTable } from './kinds-table';
import { NoCompanyNames } from './no-company-names';
import { OptionLists } from './option-lists';

/** The fields of each kind of record, option lists that they share, and the kinds of activities: usable at once, everywhere. */
@Component({
  selector: 'rv-fields',
  imports: [DecimalPipe, RouterLink, FieldEditor, KindsTable, NoCompanyNames, OptionLists, Waiting],
  templateUrl: './fields.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FieldsPage {
  private readonly catalogue = inject(CatalogueService);
  private readonly words = inject(WordingService);
  /** From the address. */
  readonly of = input<string>();
  protected readonly kinds = RECORD_KINDS.map((kind) => ({ kind, heading: headingOf(kind) }));
  protected readonly kind = computed((): RecordKind => RECORD_KINDS.find((one) => one === this.of()) ?? 'lead');
  protected readonly plural = computed(() => pluralOf(this.kind()));

  protected readonly loaded = toSignal(asLoaded(this.catalogue.fields()), { initialValue: LOADING });
  private readonly after = signal<FieldRow[] | null>(null);
  protected readonly all = computed(() => this.after() ?? valueOf(this.loaded()));
  protected readonly fields = computed(() => this.all()?.filter(({ key }) => kindOfField(key) === this.kind()) ?? null);
  private readonly listsRead = toSignal(
    this.catalogue.lists().pipe(catchError(() => of<readonly OptionListRow[]>([]))),
    { initialValue: [] },
  );
  private readonly listsAfter = signal<readonly OptionListRow[] | null>(null);
  protected readonly lists = computed(() => this.listsAfter() ?? this.listsRead());

  protected readonly editing = signal<string | null>(null);
  protected readonly adding = signal(false);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly empty = EMPTY_FORM;
  protected readonly formOf = formOf;
  protected readonly bareKey = bareKey;

  protected optionWords(field: Field): string {
    const list = this.lists().find(({ key }) => key === field.optionList);
    if (list !== undefined) return `list ${list.name}`;
    const retired = (field.retiredOptions ?? []).map((option) => `${option} (retired)`);
    return [...field.options, ...retired].join(', ');
  }

  /** Its type, and the use that the product makes of it. */
  protected holds(field: Field): string {
    const role = roleOf(field);
    // An e-mail or a country says it by its type.
    return role === null || role === field.type
      ? TYPE_WORDS[field.type]
      : `${TYPE_WORDS[field.type]}, ${ROLE_WORDS[role]}`;
  }

  protected feeds({ feeds }: Field): string {
    return feeds == null ? '' : `→ ${this.words.wording().names.field(feeds)}`;
  }

  protected begin(): void {
    this.editing.set(null);
    this.problem.set(null);
    this.adding.set(true);
  }

  protected add(form: FieldForm): void {
    const field = newField(this.kind(), form);
    const wrong = problemIn(newFieldSchema, field);
    this.problem.set(wrong);
    if (wrong === null) this.run(this.catalogue.addField(field));
  }

  protected edit(field: FieldRow): void {
    this.adding.set(false);
    this.problem.set(null);
    this.editing.set(field.key);
  }

  protected save(field: FieldRow, form: FieldForm, retired = field.retired): void {
    this.run(this.catalogue.changeField(field.key, changedField(kindOfField(field.key), form, retired)));
  }

  /** The fields after an option list was changed: they show its options. */
  protected listsChanged(lists: readonly OptionListRow[]): void {
    this.listsAfter.set(lists);
    this.catalogue.fields().subscribe((fields) => {
      this.after.set(fields);
    });
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
