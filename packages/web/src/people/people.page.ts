import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { People, PersonRow, ProblemDocument } from '@relvik/contracts';
import { ButtonModule } from 'primeng/button';
import { CheckboxModule } from 'primeng/checkbox';
import { InputTextModule } from 'primeng/inputtext';
import { asLoaded, LOADING, type Loaded, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { SessionService } from '../session/session.service';
import { PeopleService } from './people.service';

/** People: open leads against limits, who may take leads, teams and queues. Changes act at once. */
@Component({
  selector: 'rv-people',
  imports: [FormsModule, RouterLink, ButtonModule, CheckboxModule, InputTextModule, ProblemNote, Waiting],
  templateUrl: './people.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeoplePage {
  private readonly service = inject(PeopleService);
  protected readonly admin = inject(SessionService).is('admin');
  protected readonly loaded = signal<Loaded<People>>(LOADING);
  protected readonly people = computed(() => valueOf(this.loaded()));
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly editing = signal<string | null>(null);
  protected mayTakeLeads = true;
  /** What stands in the number field: null when it is empty. */
  protected limit: number | null = null;
  protected whyNot = '';

  protected readonly rows = computed(() => {
    const { people = [], teams = [] } = this.people() ?? {};
    const most = Math.max(1, ...people.map((person) => Math.max(person.limit ?? 0, person.open)));
    return people.map((person) => ({
      ...person,
      teamNames: person.teams.map((key) => teams.find((team) => team.key === key)?.name ?? key).join(', '),
      load: (100 * person.open) / most,
      room: person.limit === null ? null : (100 * person.limit) / most,
      full: person.limit !== null && person.open >= person.limit,
    }));
  });
  protected readonly queues = computed(() => {
    const { queues = [], people = [] } = this.people() ?? {};
    return queues.map((queue) => ({
      ...queue,
      names: queue.members
        .map((key) => people.find((person) => person.key === key)?.name)
        .filter(Boolean)
        .join(', '),
    }));
  });
  protected readonly teams = computed(() => {
    const { teams = [], people = [] } = this.people() ?? {};
    const nameOf = (key: string): string => people.find((person) => person.key === key)?.name ?? key;
    return teams.map((team) => ({
      ...team,
      led: team.leaders.map(nameOf).join(', '),
      names: team.members
        .filter((key) => !team.leaders.includes(key))
        .map(nameOf)
        .join(', '),
    }));
  });

  constructor() {
    asLoaded(this.service.people()).subscribe((people) => {
      this.loaded.set(people);
    });
  }

  protected edit(person: PersonRow): void {
    this.editing.set(person.key);
    this.mayTakeLeads = person.mayTakeLeads;
    this.limit = person.limit;
    this.whyNot = person.whyNot ?? '';
    this.problem.set(null);
  }

  protected save(key: string): void {
    this.service
      .change(key, { mayTakeLeads: this.mayTakeLeads, limit: this.limit, whyNot: this.whyNot.trim() || null })
      .subscribe({
        next: (people) => {
          this.loaded.set({ state: 'ready', value: people });
          this.editing.set(null);
          this.problem.set(null);
        },
        error: (error: unknown) => {
          this.problem.set(problemOf(error));
        },
      });
  }
}
