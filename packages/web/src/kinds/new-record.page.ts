import { ChangeDetectionStrategy, Component, computed, effect, inject, input, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { Router, RouterLink } from '@angular/router';
import type { ProblemDocument } from '@relvik/contracts';
import { takesAnyOption, type UnroutedKind } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { catchError, map, type Observable, of, switchMap } from 'rxjs';
import { messageAt, problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { LeadService } from '../record/lead.service';
import { PipelineChoice } from '../record/pipeline-choice';
import { ValueField } from '../record/value-field';
import { WordingService } from '../wording/wording.service';
import { RecordService } from './record.service';
import { pathOf } from '../wording/kind-words';

const HINTS: { readonly [K in UnroutedKind]: string } = {
  contact: 'A name or an e-mail is enough. What leads with the same e-mail say fills what you leave blank.',
  company: 'A name is enough, also before anyone there is known. Leads that name it are put under it.',
  deal: 'Without a name it is called after the company.',
};

/** The lead, contact or company of a new deal or contact, from the address. */
interface Of {
  readonly words: string;
  readonly values: Readonly<Record<string, string>>;
}

/** A contact, company or deal made by hand. */
@Component({
  selector: 'rv-new-record',
  imports: [RouterLink, ButtonModule, PipelineChoice, ProblemNote, ValueField],
  template: `
    <section class="page">
      <h1>
        Add a {{ kind() }}
        @if (of()?.words; as whose) {
          <span class="quiet">{{ whose }}</span>
        }
      </h1>
      <p class="quiet">{{ hint() }}</p>
      <form (submit)="make($event)" class="fields two pairs">
        <rv-pipeline-choice [kind]="kind()" [(chosen)]="pipeline" />
        @for (field of fields(); track field.key) {
          <label [for]="'new-' + field.key">{{ field.name }}</label>
          <div>
            <rv-value-field
              [id]="'new-' + field.key"
              [field]="field"
              [value]="values()[field.key] ?? ''"
              [country]="values()[words.countryKey(kind())] ?? ''"
              (changed)="set(field.key, $event)"
            />
            @if (message(field.key); as wrong) {
              <small class="wrong">{{ wrong }}</small>
            }
          </div>
        }
        <rv-problem-note [problem]="problem()" />
        @if (problem()?.other; as other) {
          <p>
            <a [routerLink]="[path(), other]">See {{ kind() }} {{ other }}</a>
          </p>
        }
        <div class="buttons">
          <button pButton type="submit" [disabled]="busy()">Add the {{ kind() }}</button>
          <a pButton [routerLink]="path()" [text]="true">Cancel</a>
        </div>
      </form>
    </section>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NewRecordPage {
  private readonly records = inject(RecordService);
  private readonly leads = inject(LeadService);
  private readonly router = inject(Router);
  protected readonly words = inject(WordingService);
  /** From the route, and from the address. */
  readonly kind = input.required<UnroutedKind>();
  readonly lead = input<string>();
  readonly contact = input<string>();
  readonly company = input<string>();

  protected readonly values = signal<Readonly<Record<string, string>>>({});
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly busy = signal(false);
  protected readonly pipeline = signal<string | null>(null);
  protected readonly hint = computed(() => HINTS[this.kind()]);
  protected readonly path = computed(() => pathOf(this.kind()));
  protected readonly fields = computed(() =>
    this.words.fieldsOf(this.kind()).filter((field) => !takesAnyOption(field)),
  );
  private readonly asked = computed(() => ({ lead: this.lead(), contact: this.contact(), company: this.company() }));
  protected readonly of = toSignal(toObservable(this.asked).pipe(switchMap((asked) => this.whose(asked))), {
    initialValue: null,
  });

  constructor() {
    // An amount that its lead names is taken over, unless somebody typed already.
    effect(() => {
      const proposed = this.of()?.values ?? {};
      this.values.update((typed) => ({ ...proposed, ...typed }));
    });
  }

  private whose({ lead, contact, company }: ReturnType<typeof this.asked>): Observable<Of | null> {
    if (lead !== undefined)
      return this.leads.one(Number(lead)).pipe(
        map((one): Of => {
          const worth = one.values.find(({ field }) => this.words.wording().fields.get(field)?.type === 'money');
          const amount = this.words.fieldsOf('deal').find(({ role }) => role === 'amount');
          return {
            words: `for ${one.company || one.name}, from the lead ${one.name}`,
            values: worth === undefined || amount === undefined ? {} : { [amount.key]: worth.shown },
          };
        }),
        catchError(() => of(null)),
      );
    const [kind, id] = contact === undefined ? (['company', company] as const) : (['contact', contact] as const);
    if (id === undefined) return of(null);
    return this.records.one(kind, Number(id)).pipe(
      map(({ name }): Of => ({ words: kind === 'company' ? `at ${name}` : `with ${name}`, values: {} })),
      catchError(() => of(null)),
    );
  }

  protected set(key: string, value: string): void {
    this.values.update((values) => ({ ...values, [key]: value }));
  }

  protected message(key: string): string | null {
    return messageAt(this.problem(), `/values/${key}`);
  }

  protected make(event: Event): void {
    event.preventDefault();
    if (this.busy()) return;
    this.busy.set(true);
    const idOf = (id: string | undefined): { readonly id: number } | null =>
      id === undefined ? null : { id: Number(id) };
    const values = Object.fromEntries(Object.entries(this.values()).filter(([, value]) => value.trim() !== ''));
    const made = {
      values,
      lead: idOf(this.lead())?.id ?? null,
      contact: idOf(this.contact())?.id ?? null,
      company: idOf(this.company())?.id ?? null,
      pipeline: this.pipeline(),
    };
    this.records.make(this.kind(), made).subscribe({
      next: ({ id }) => void this.router.navigate([this.path(), id]),
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
