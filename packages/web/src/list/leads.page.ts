import { DatePipe, DecimalPipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  type ElementRef,
  inject,
  input,
  signal,
  viewChild,
} from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import { LEAD_COLUMNS, type LeadQuery, type ListQuery, MORE_LEAD_COLUMNS } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { TableModule } from 'primeng/table';
import { catchError, map, of, startWith, Subject, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { PeopleService } from '../people/people.service';
import { MoveMany } from './move-many';
import { GiveLeads } from '../record/give-leads';
import { PinMany } from './pin-many';
import { leadColumns } from './lead-columns';
import { StageColumns } from './stage-columns';
import { TagMany } from './tag-many';
import { LeadCell } from './lead-cell';
import { LeadService } from '../record/lead.service';
import { bandsNamed, choices, ORDERS, PLACES, STATUSES } from './list-choices';
import { COLUMN_HEADS, RememberedColumns } from './list-columns';
import { ListCondition } from './list-condition';
import { ListSelection } from './list-selection';
import { sortedBy, sortingBy } from './list-sorting';
import { SavedViews } from './saved-views';
import { SessionService } from '../session/session.service';
import { WordingService } from '../wording/wording.service';

const PAGE = 50;

/** Of what is in the address, what makes a view. */
const VIEWED = [
  'status',
  'place',
  'owner',
  'queue',
  'acceptance',
  'stage',
  'territory',
  'verdict',
  'fit',
  'engagement',
  'source',
  'team',
  'set',
  'gradedBy',
  'least',
  'find',
  'when',
  'order',
  'columns',
] as const;

/** Leads, ranked and filtered; the filters stand in the address, and pages come from the server one by one. */
@Component({
  selector: 'rv-leads',
  imports: [
    DatePipe,
    DecimalPipe,
    FormsModule,
    RouterLink,
    ButtonModule,
    CheckboxModule,
    InputTextModule,
    SelectModule,
    TableModule,
    MultiSelectModule,
    LeadCell,
    ListCondition,
    SavedViews,
    MoveMany,
    GiveLeads,
    PinMany,
    StageColumns,
    TagMany,
    Waiting,
  ],
  templateUrl: './leads.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class LeadsPage {
  private readonly router = inject(Router);
  private readonly leads = inject(LeadService);
  protected readonly words = inject(WordingService);
  protected readonly gives = !inject(SessionService).is('rep');

  // From the address.
  readonly status = input<string>();
  readonly place = input<string>();
  readonly owner = input<string>();
  readonly queue = input<string>();
  readonly acceptance = input<'asked' | 'accepted'>();
  readonly stage = input<string>();
  readonly territory = input<string>();
  readonly verdict = input<string>();
  readonly fit = input<string>();
  readonly source = input<string>();
  readonly team = input<string>();
  readonly set = input<string>();
  readonly gradedBy = input<string>();
  readonly least = input<string>();
  readonly find = input<string>();
  readonly order = input<string>();
  readonly engagement = input<string>();
  readonly when = input<string>();
  readonly columns = input<string>();
  readonly finding = input<string>();
  /** `columns`: by stage, in place of the table. */
  readonly layout = input<string>();

  /** The marks of the pages before this one, so that one can go back. */
  private readonly passed = signal<readonly string[]>([]);
  private readonly finder = viewChild<ElementRef<HTMLInputElement>>('finder');

  /** Filters that have no field of their own here, as chips that can be taken away. */
  protected readonly chips = computed(() => {
    const { names } = this.words.wording();
    const chip = (key: string, words: string | undefined) => (words === undefined ? [] : [{ key, words }]);
    const [queue, team, gradedBy] = [this.queue(), this.team(), this.gradedBy()];
    return [
      ...chip('queue', queue && `Queue ${names.queue(queue)}`),
      ...chip('acceptance', this.acceptance() && (this.acceptance() === 'asked' ? 'To be accepted' : 'Accepted')),
      ...chip('source', this.source()),
      ...chip('team', team && names.team(team)),
      ...chip('gradedBy', gradedBy && `Graded by ${names.set(gradedBy)}`),
    ];
  });

  protected readonly filters = computed((): LeadQuery => {
    const least = Number(this.least());
    return {
      status: (this.status() ?? 'open') as LeadQuery['status'],
      place: this.place(),
      owner: this.owner(),
      queue: this.queue(),
      acceptance: this.acceptance(),
      stage: this.stage(),
      territory: this.territory(),
      verdict: this.verdict(),
      fit: this.fit(),
      engagement: this.engagement(),
      source: this.source(),
      team: this.team(),
      set: this.set(),
      gradedBy: this.gradedBy(),
      least: this.least() !== undefined && Number.isFinite(least) ? least : undefined,
      find: this.find(),
      when: this.when(),
      order: (this.order() ?? 'rank') as LeadQuery['order'],
    };
  });
  protected readonly byStage = computed(() => leadColumns(this.leads, this.filters()));
  /** The usual columns need not be asked for. */
  private readonly asked = computed(
    () =>
      this.chosen()
        .filter((key) => !LEAD_COLUMNS.some((usual) => usual === key))
        .join(',') || undefined,
  );
  private readonly query = computed((): LeadQuery => ({
    ...this.filters(),
    columns: this.asked(),
    size: PAGE,
    after: this.passed().at(-1),
  }));
  /** The list as a view keeps it. */
  protected readonly view = computed((): ListQuery => {
    const inputs = VIEWED.map((key) => [key, this[key]()] as const);
    return Object.fromEntries(inputs.filter((one): one is [(typeof VIEWED)[number], string] => one[1] !== undefined));
  });
  protected readonly file = computed(() => this.leads.fileOf({ ...this.filters(), columns: this.chosen().join(',') }));

  private readonly remembered = inject(RememberedColumns);
  /** The columns that are seen: those of the address, else those chosen last. */
  protected readonly chosen = computed((): readonly string[] => {
    const asked = this.columns()?.split(',') ?? this.remembered.columns();
    // What ranks the list is seen.
    const ranking = `set:${this.set() ?? ''}`;
    return this.columnChoices()
      .map(({ value }) => value)
      .filter((key) => asked.includes(key) || key === ranking);
  });
  protected readonly columnChoices = computed(() => [
    ...[...LEAD_COLUMNS, ...MORE_LEAD_COLUMNS].map((value) => ({ value: value, label: COLUMN_HEADS[value] })),
    ...this.words.leadSets().map(({ key, name }) => ({ value: `set:${key}`, label: name })),
    ...this.words
      .fields()
      .filter(({ key }) => key !== 'name' && key !== 'company')
      .map(({ key, name }) => ({ value: `field:${key}`, label: name })),
  ]);
  protected readonly heads = computed(() =>
    this.chosen().map((key) => ({
      key,
      label: this.columnChoices().find(({ value }) => value === key)?.label ?? key,
      number: this.isNumber(key),
      sorts: sortingBy(key, this.view()),
      sorted: sortedBy(key, this.view()),
    })),
  );

  /** Asks for the page again, after work on its leads. */
  protected readonly again = new Subject<void>();
  protected readonly selection = new ListSelection();

  protected readonly loaded = toSignal(
    toObservable(this.query).pipe(
      switchMap((query) =>
        this.again.pipe(
          map(() => query),
          startWith(query),
        ),
      ),
      switchMap((query) => asLoaded(this.leads.page(query))),
    ),
    { initialValue: LOADING },
  );
  protected readonly page = computed(() => valueOf(this.loaded()));
  protected readonly rows = computed(() => [...(this.page()?.rows ?? [])]);
  protected readonly count = toSignal(
    toObservable(this.filters).pipe(switchMap((query) => this.leads.count(query).pipe(catchError(() => of(null))))),
    { initialValue: null },
  );
  protected readonly first = computed(() => this.passed().length * PAGE);

  private readonly people = toSignal(
    inject(PeopleService)
      .people()
      .pipe(catchError(() => of(null))),
    { initialValue: null },
  );
  protected readonly statuses = [...STATUSES];
  protected readonly places = [...PLACES];
  protected readonly orders = [...ORDERS];
  protected readonly rankings = computed(() => choices('Ranked by the grading set', this.words.leadSets()));
  protected readonly stages = computed(() => choices('Every stage', this.words.lists().stages));
  protected readonly verdicts = computed(() => choices('Every verdict', this.words.lists().verdicts));
  protected readonly fits = computed(() => [
    ...choices('Every fit', bandsNamed('Fit', this.words.bands().fit)),
    { label: 'No grade', value: 'none' },
  ]);
  protected readonly engagements = computed(() =>
    choices('Every engagement', bandsNamed('Engagement', this.words.bands().engagement)),
  );
  protected readonly territories = computed(() => [
    ...choices('Every territory', this.words.lists().territories),
    { label: 'None', value: 'none' },
  ]);
  protected readonly owners = computed(() =>
    choices(
      'Every owner',
      (this.people()?.people ?? []).filter((person) => person.mayTakeLeads || person.open > 0),
    ),
  );

  constructor() {
    toObservable(this.finder).subscribe((finder) => {
      if (this.finding() === 'yes') finder?.nativeElement.focus();
    });
  }

  private isNumber(key: string): boolean {
    const type = this.words.wording().fields.get(key.replace(/^field:/, ''))?.type;
    return (
      key.startsWith('set:') ||
      key === 'rank' ||
      key === 'fit' ||
      key === 'engagement' ||
      type === 'number' ||
      type === 'money'
    );
  }

  protected choose(columns: readonly string[]): void {
    // In the order in which they are offered, whichever was chosen first.
    const keys = this.columnChoices().flatMap(({ value }) => (columns.includes(value) ? [value] : []));
    this.remembered.remember(keys);
    this.filter({ columns: this.columns() === undefined ? null : keys.join(',') });
  }

  protected openView(query: ListQuery): void {
    this.beginAgain();
    void this.router.navigate([], { queryParams: query });
  }

  protected without(key: string): void {
    this.filter({ [key]: null });
  }

  protected filter(change: Readonly<Record<string, string | null>>): void {
    this.beginAgain();
    void this.router.navigate([], { queryParams: { finding: null, ...change }, queryParamsHandling: 'merge' });
  }

  /** The first page; it is not asked for anew where one is on it. */
  private beginAgain(): void {
    this.passed.update((marks) => (marks.length === 0 ? marks : []));
  }

  protected next(): void {
    const mark = this.page()?.next;
    if (mark) this.passed.update((marks) => [...marks, mark]);
  }

  protected back(): void {
    this.passed.update((marks) => marks.slice(0, -1));
  }
}
