import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { ChangePresence, People, ProblemDocument } from '@relvik/contracts';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { SessionService } from '../session/session.service';
import { CalendarFile } from './calendar-file';
import { DaysOffForm } from './days-off-form';
import { momentWords } from './moment-words';
import { PeopleService } from './people.service';

/** One's own: here or away, days off, open leads against the limit. */
@Component({
  selector: 'rv-own-presence',
  imports: [CalendarFile, DaysOffForm, ProblemNote],
  template: `
    @if (me(); as own) {
      <rv-problem-note [problem]="problem()" />
      <p class="presence joint" role="group" aria-label="Whether leads come to you">
        <b>{{ state() }}</b>
        <button type="button" class="choice" (click)="say({ away: !own.away })">
          {{ own.away ? 'I am here again' : 'I am away' }}
        </button>
        <span class="quiet"
          >{{ own.open }} open{{ own.limit === null ? '' : ' of ' + own.limit }}{{ deputyNote() }}</span
        >
        <rv-days-off-form [daysOff]="own.daysOff" (changed)="say({ daysOff: $event })" />
        @if (people(); as all) {
          <rv-calendar-file [person]="own" [people]="all" (taken)="say({ daysOff: $event })" />
        }
      </p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class OwnPresence {
  private readonly service = inject(PeopleService);
  private readonly session = inject(SessionService).session;
  protected readonly people = signal<People | null>(null);
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly me = computed(() => this.people()?.people.find(({ key }) => key === this.session()?.key) ?? null);
  protected readonly state = computed(() => {
    const me = this.me();
    if (me === null) return '';
    if (!me.mayTakeLeads) return 'You take no leads';
    if (me.away) return 'You are away: no leads come to you';
    if (me.worksNow) return 'You are here';
    return me.backAt === null ? 'You are off' : `You are off until ${momentWords(me.backAt)}`;
  });

  /** The deputy who takes over the open leads. */
  protected readonly deputyNote = computed(() => {
    const me = this.me();
    if (me === null || me.deputy === null) return '';
    const name = this.people()?.people.find(({ key }) => key === me.deputy)?.name ?? 'a colleague';
    return `; ${name} takes over while you are away${me.getsBack ? ', and you get them back' : ''}`;
  });

  constructor() {
    this.service.people().subscribe({
      next: (people) => {
        this.people.set(people);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }

  protected say(change: Partial<ChangePresence>): void {
    const me = this.me();
    if (me === null) return;
    this.service.changePresence({ away: me.away, daysOff: me.daysOff, ...change }).subscribe({
      next: (people) => {
        this.people.set(people);
        this.problem.set(null);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}
