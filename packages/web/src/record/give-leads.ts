import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { Give, Given, ProblemDocument } from '@relvik/contracts';
import { METHOD_WORDS, type Method, METHODS } from '@relvik/core';
import { group } from 'd3';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { catchError, map, of, switchMap } from 'rxjs';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { giveChoices, givenTo } from '../people/give-choices';
import { PeopleService } from '../people/people.service';
import { WordingService } from '../wording/wording.service';
import { LeadService } from './lead.service';
import { placesWords } from './places-words';

/** Refused leads that are named for each reason, and reasons that are told. */
const [NAMED, REASONS] = [3, 4];

/** Gives leads to a person, team, queue or route by hand, or lets the routes choose again; what it would do is shown first. */
@Component({
  selector: 'rv-give-leads',
  imports: [FormsModule, RouterLink, ButtonModule, SelectModule, ProblemNote],
  template: `
    <form class="give" (ngSubmit)="give()">
      <span>{{ verb() }}</span>
      <p-select
        [ariaLabel]="verb()"
        name="to"
        [group]="true"
        [filter]="true"
        [options]="choices()"
        optionLabel="label"
        optionValue="value"
        optionGroupLabel="label"
        optionGroupChildren="items"
        placeholder="Choose who, or by what"
        [ngModel]="to()"
        (ngModelChange)="choose($event)"
      />
      @if (isTeam()) {
        <p-select
          ariaLabel="By which method"
          name="method"
          [options]="methods"
          optionLabel="label"
          optionValue="value"
          [ngModel]="method()"
          (ngModelChange)="method.set($event)"
        />
      }
      @if (preview(); as shown) {
        <span class="quiet" role="status">{{ outcome() ? '' : 'would go to: ' }}{{ wordsOf(shown) }}</span>
      }
      <button
        pButton
        type="submit"
        [outlined]="true"
        [disabled]="busy() || preview()?.done?.length === 0 || to() === null"
      >
        Give
      </button>
      @if (outcome(); as done) {
        <span role="status">Given: {{ wordsOf(done) }}</span>
      }
      @for (one of refused(); track one.why) {
        <small class="wrong">
          @if (ids().length > 1) {
            {{ one.ids.length === 1 ? '1 stays' : one.ids.length + ' stay' }}:
          }
          {{ one.why }}
          @if (ids().length > 1) {
            @for (id of one.some; track id) {
              <a [routerLink]="['/leads', id]">lead {{ id }}</a>
            }
          }
        </small>
      }
    </form>
    <rv-problem-note [problem]="problem()" />
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GiveLeads {
  private readonly leads = inject(LeadService);
  private readonly words = inject(WordingService);
  readonly ids = input.required<readonly number[]>();
  readonly verb = input('Give to');
  readonly given = output<Given>();

  protected readonly to = signal<string | null>(null);
  protected readonly method = signal<Method>('round-robin');
  protected readonly busy = signal(false);
  protected readonly outcome = signal<Given | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly methods = METHODS.map((value) => ({ value, label: METHOD_WORDS[value] }));
  protected readonly isTeam = computed(() => this.to()?.startsWith('team:') === true);

  private readonly people = toSignal(
    inject(PeopleService)
      .people()
      .pipe(catchError(() => of(null))),
    { initialValue: null },
  );
  protected readonly choices = computed(() =>
    giveChoices(this.people() ?? { people: [], teams: [], queues: [] }, this.words.lists().routes),
  );

  private readonly asked = computed((): Give | null => {
    const to = givenTo(this.to());
    if (to === null || this.ids().length === 0) return null;
    return { ids: this.ids(), ...to, ...(to.to === 'team' ? { method: this.method() } : {}) };
  });
  /** The preview of the chosen target; null: none is chosen, or it is done. */
  private readonly foreseen = toSignal(
    toObservable(this.asked).pipe(
      switchMap((give) =>
        give === null
          ? of(null)
          : this.leads.givePreview(give).pipe(
              map((given) => ({ give, given })),
              catchError((error: unknown) => {
                this.problem.set(problemOf(error));
                return of(null);
              }),
            ),
      ),
    ),
    { initialValue: null },
  );
  protected readonly preview = computed(() => {
    const foreseen = this.foreseen();
    return this.outcome() === null && foreseen !== null && foreseen.give === this.asked() ? foreseen.given : null;
  });
  /** By reason, those that most stay for first. */
  protected readonly refused = computed(() => {
    const { refused = [] } = this.outcome() ?? this.preview() ?? {};
    return [...group(refused, ({ why }) => why)]
      .map(([why, leads]) => ({ why, ids: leads, some: leads.slice(0, NAMED).map(({ id }) => id) }))
      .sort((a, b) => b.ids.length - a.ids.length)
      .slice(0, REASONS);
  });

  protected choose(to: string): void {
    this.problem.set(null);
    this.outcome.set(null);
    this.to.set(to);
  }

  protected wordsOf({ places, refused }: Given): string {
    const { names } = this.words.wording();
    const several = this.ids().length > 1;
    if (places.length === 0) return several ? 'nobody; all stay' : 'nobody; it stays';
    return [placesWords(places, names, several), ...(refused.length === 0 ? [] : [`${refused.length} stay`])].join(
      ', ',
    );
  }

  protected give(): void {
    const give = this.asked();
    if (give === null) return;
    this.busy.set(true);
    this.leads.give(give).subscribe({
      next: (given) => {
        this.busy.set(false);
        this.problem.set(null);
        this.to.set(null);
        this.outcome.set(given);
        this.given.emit(given);
      },
      error: (error: unknown) => {
        this.busy.set(false);
        this.problem.set(problemOf(error));
      },
    });
  }
}
