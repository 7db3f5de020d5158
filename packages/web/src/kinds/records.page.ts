import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { ActivatedRoute, Router, RouterLink } from '@angular/router';
import { type ListQuery, MORE_RECORD_COLUMNS, RECORD_COLUMNS, type RecordQuery } from '@relvik/contracts';
import type { FieldRole, TieKind, UnroutedKind } from '@relvik/core';
import { DateTime } from 'luxon';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { catchError, combineLatest, map, of, startWith, Subject, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { bandsNamed, choices, ORDERS, STATUSES } from '../list/list-choices';
import { COLUMN_HEADS } from '../list/list-columns';
import { ListCondition } from '../list/list-condition';
import { ListSelection } from '../list/list-selection';
import { sortedBy, sortingBy } from '../list/list-sorting';
import { SavedViews } from '../list/saved-views';
import { StageColumns } from '../list/stage-columns';
import { TagMany } from '../list/tag-many';
import { PeopleService } from '../people/people.service';
import { SessionService } from '../session/session.service';
import { headingOf, pathOf, pluralOf } from '../wording/kind-words';
import { WordingService } from '../wording/wording.service';
import { amissConditions } from './amiss-conditions';
import { dealColumns, type DealFields } from './deal-columns';
import { MakeLeads } from './make-leads';
import { RecordCell } from './record-cell';
import { RecordService } from './record.service';

const PAGE = 50;

/** Fields that are seen beside the columns of the list, before anybody chooses others. */
const FIRST_FIELDS: { readonly [K in UnroutedKind]: readonly string[] } = {
  contact: ['field:contact.title'],
  company: ['field:company.industry', 'field:company.key_account'],
  deal: ['field:deal.amount', 'field:deal.close'],
};

/** Columns of scores: a kind that no set scores has nothing to show in them. */
const SCORES: readonly string[] = ['grade', 'rank', 'fit', 'engagement'];

/** Contacts, companies or deals, ranked and filtered; the filters stand in the address, and pages come from the server one by one. */
@Component({
  selector: 'rv-records',
  imports: [
    DatePipe,
    DecimalPipe,
    FormsModule,
    RouterLink,
    ButtonModule,
    CheckboxModule,
    InputTextModule,
    MultiSelectModule,
    SelectModule,
    ListCondition,
    RecordCell,
    SavedViews,
    MakeLeads,
    StageColumns,
    TagMany,
    Waiting,
  ],
  templateUrl: './records.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordsPage {
  private readonly router = inject(Router);
  private readonly records = inject(RecordService);
  protected readonly words = inject(WordingService);
  private readonly sessions = inject(SessionService);
  protected readonly admin = computed(() => this.sessions.is('admin'));
  /** From the route. */
  readonly kind = input.required<UnroutedKind>();
  private readonly address = toSignal(inject(ActivatedRoute).queryParamMap, { requireSync: true });

  protected readonly heading = computed(() => headingOf(this.kind()));
  protected readonly plural = computed(() => pluralOf(this.kind()));
  protected readonly path = computed(() => pathOf(this.kind()));
  /** Null for deals: no lead is made of them. */
  protected readonly party = computed((): TieKind | null => {
    const kind = this.kind();
    return kind === 'deal' ? null : kind;
  });
  protected readonly isDeal = computed(() => this.kind() === 'deal');

  /** Whether some set scores records of the kind. */
  protected readonly isScored = computed(() => this.words.setsFor(this.kind()).length > 0);

  /** The list as the address has it, and as a view keeps it. */
  protected readonly view = computed((): ListQuery => {
    const params = this.address();
    const keys = params.keys.filter((key) => key !== 'layout');
    return Object.fromEntries(keys.map((key) => [key, params.get(key) ?? '']));
  });
  /** Whether deals are shown by stage, in place of the table. */
  protected readonly isByStage = computed(() => this.isDeal() && this.address().get('layout') === 'columns');
  private readonly today = DateTime.now().toISODate();
  private readonly dealFields = computed((): DealFields => {
    const keyOf = (role: FieldRole): string | null =>
      this.words.fieldsOf('deal').find((field) => field.role === role)?.key ?? null;
    return { amount: keyOf('amount'), close: keyOf('close') };
  });
  protected readonly byStage = computed(() => dealColumns(this.records, this.filters(), this.dealFields(), this.today));
  /** Conditions by which deals with which something is amiss are found with one click. */
  protected readonly amiss = computed(() => amissConditions(this.dealFields(), this.today));
  /** With the order of a list whose records have no scores. */
  protected readonly ordered = computed((): ListQuery => ({
    ...(this.isScored() ? {} : { order: 'newest' }),
    ...this.view(),
  }));
  protected readonly filters = computed((): RecordQuery => {
    const { least, columns: _, ...view } = this.ordered();
    return {
      ...view,
      ...(least !== undefined && Number.isFinite(Number(least)) ? { least: Number(least) } : {}),
    };
  });
  /** The marks of the pages before this one; another list begins at the first. */
  protected readonly passed = linkedSignal<RecordQuery, readonly string[]>({
    source: this.filters,
    computation: () => [],
  });

  protected readonly columnChoices = computed(() => [
    ...[...RECORD_COLUMNS[this.kind()], ...MORE_RECORD_COLUMNS]
      .filter((value) => this.isScored() || !SCORES.includes(value))
      .map((value) => ({ value: value, label: COLUMN_HEADS[value] })),
    ...this.words.setsFor(this.kind()).map(({ key, name }) => ({ value: `set:${key}`, label: name })),
    ...this.words
      .fieldsOf(this.kind())
      .filter(({ role }) => role !== 'name')
      .map(({ key, name }) => ({ value: `field:${key}`, label: name })),
  ]);
  protected readonly chosen = computed((): readonly string[] => {
    const asked = this.view()['columns']?.split(',') ?? [...RECORD_COLUMNS[this.kind()], ...FIRST_FIELDS[this.kind()]];
    const ranking = `set:${this.view()['set'] ?? ''}`;
    return this.columnChoices()
      .map(({ value }) => value)
      .filter((key) => asked.includes(key) || key === ranking);
  });
  protected readonly heads = computed(() =>
    this.chosen().map((key) => ({
      key,
      label: this.columnChoices().find(({ value }) => value === key)?.label ?? key,
      number: this.isNumber(key),
      sorts: sortingBy(key, this.ordered()),
      sorted: sortedBy(key, this.ordered()),
    })),
  );
  private readonly query = computed((): { readonly kind: UnroutedKind; readonly query: RecordQuery } => ({
    kind: this.kind(),
    query: {
      ...this.filters(),
      columns:
        this.chosen()
          .filter((key) => key.includes(':') || MORE_RECORD_COLUMNS.some((column) => column === key))
          .join(',') || undefined,
      size: PAGE,
      after: this.passed().at(-1),
    },
  }));
  protected readonly file = computed(() =>
    this.records.fileOf(this.kind(), { ...this.filters(), columns: this.chosen().join(',') }),
  );

  /** Asks for the page again, after work on its records. */
  protected readonly again = new Subject<void>();
  /** Of the kind that is shown. */
  protected readonly selection = linkedSignal<UnroutedKind, ListSelection>({
    source: this.kind,
    computation: () => new ListSelection(),
  });

  protected readonly loaded = toSignal(
    combineLatest([toObservable(this.query), this.again.pipe(startWith(undefined))]).pipe(
      switchMap(([{ kind, query }]) => asLoaded(this.records.page(kind, query))),
    ),
    { initialValue: LOADING },
  );
  protected readonly page = computed(() => valueOf(this.loaded()));
  private readonly counted = computed(() => ({ kind: this.kind(), query: this.filters() }));
  protected readonly count = toSignal(
    toObservable(this.counted).pipe(
      switchMap(({ kind, query }) => this.records.count(kind, query).pipe(catchError(() => of(null)))),
    ),
    { initialValue: null },
  );

  private readonly people = toSignal(
    inject(PeopleService)
      .people()
      .pipe(
        map(({ people }) => people),
        catchError(() => of([])),
      ),
    { initialValue: [] },
  );
  protected readonly statuses = STATUSES.filter(({ value }) => value !== 'disqualified');
  protected readonly orders = computed(() =>
    ORDERS.filter(({ value }) => this.isScored() || !SCORES.includes(value ?? '')),
  );
  protected readonly rankings = computed(() => choices('Ranked by the grading set', this.words.setsFor(this.kind())));
  protected readonly stages = computed(() => choices('Every stage', this.words.stagesOf(this.kind())));
  protected readonly fits = computed(() => [
    ...choices('Every fit', bandsNamed('Fit', this.words.bandsOf(this.kind(), 'fit'))),
    { label: 'No grade', value: 'none' },
  ]);
  protected readonly engagements = computed(() =>
    choices('Every engagement', bandsNamed('Engagement', this.words.bandsOf(this.kind(), 'engagement'))),
  );
  protected readonly owners = computed(() =>
    choices(
      'Every owner',
      this.people().filter((person) => person.mayTakeLeads || person.open > 0),
    ),
  );

  private isNumber(key: string): boolean {
    const type = this.words.wording().fields.get(key.replace(/^field:/, ''))?.type;
    return (
      key.startsWith('set:') ||
      ['rank', 'fit', 'engagement', 'leads'].includes(key) ||
      type === 'number' ||
      type === 'money'
    );
  }

  protected choose(columns: readonly string[]): void {
    const keys = this.columnChoices().flatMap(({ value }) => (columns.includes(value) ? [value] : []));
    this.filter({ columns: keys.join(',') });
  }

  protected openView(query: ListQuery): void {
    void this.router.navigate([], { queryParams: query });
  }

  protected filter(change: Readonly<Record<string, string | null>>): void {
    void this.router.navigate([], { queryParams: change, queryParamsHandling: 'merge' });
  }

  protected next(): void {
    const mark = this.page()?.next;
    if (mark) this.passed.update((marks) => [...marks, mark]);
  }

  protected back(): void {
    this.passed.update((marks) => marks.slice(0, -1));
  }
}
