import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { ChangeRep, People, PersonRow, ProblemDocument, RetirePerson } from '@relvik/contracts';
import { map, type Observable } from 'rxjs';
import { asLoaded, LOADING, type Loaded, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { SessionService } from '../session/session.service';
import { countOf } from '../wording/kind-words';
import { hoursWords } from './hours-words';
import { momentWords } from './moment-words';
import { PeopleService } from './people.service';
import { NewPerson } from './new-person';
import { PeopleFile } from './people-file';
import { PersonEditor } from './person-editor';
import { QueueList } from './queue-list';
import { SkillLists } from './skill-lists';
import { TeamEditor } from './team-editor';

/** People: open leads against limits, who may take leads, teams and queues. Changes act at once. */
@Component({
  selector: 'rv-people',
  imports: [RouterLink, ProblemNote, Waiting, NewPerson, PeopleFile, PersonEditor, TeamEditor, QueueList, SkillLists],
  templateUrl: './people.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PeoplePage {
  protected readonly service = inject(PeopleService);
  protected readonly admin = inject(SessionService).is('admin');
  protected readonly directs = !inject(SessionService).is('rep');
  protected readonly loaded = signal<Loaded<People>>(LOADING);
  protected readonly people = computed(() => valueOf(this.loaded()));
  protected readonly problem = signal<ProblemDocument | null>(null);
  /** Why someone who was to be retired was not. */
  protected readonly stayed = signal<string | null>(null);
  protected readonly editing = signal<string | null>(null);
  protected readonly editingTeam = signal<string | null>(null);

  protected readonly rows = computed(() => {
    const { people = [], teams = [], skills = [] } = this.people() ?? {};
    const most = Math.max(1, ...people.map((person) => Math.max(person.limit ?? 0, person.open)));
    return people.map((person) => ({
      ...person,
      teamNames: person.teams.map((key) => teams.find((team) => team.key === key)?.name ?? key).join(', '),
      load: (100 * person.open) / most,
      room: person.limit === null ? null : (100 * person.limit) / most,
      full: person.limit !== null && person.open >= person.limit,
      works: worksWords(person),
      deputyName: people.find(({ key }) => key === person.deputy)?.name ?? null,
      hoursNote: [
        hoursWords(person.hours) || (person.zone ?? ''),
        person.holidaysOf === null ? '' : `holidays ${person.holidaysOf}`,
      ]
        .filter((note) => note !== '')
        .join(', '),
      skillWords: person.skills
        .map(({ skill, has }) => `${skills.find(({ key }) => key === skill)?.name ?? skill}: ${has.join(', ')}`)
        .join(' · '),
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
      inside: teams.find(({ key }) => key === team.parent)?.name ?? '',
      hoursNote: hoursWords(team.hours),
    }));
  });

  constructor() {
    asLoaded(this.service.people()).subscribe((people) => {
      this.loaded.set(people);
    });
  }

  protected edit(person: PersonRow): void {
    this.editing.update((key) => (key === person.key ? null : person.key));
    this.problem.set(null);
  }

  /** Where some leads stay, so does their owner. */
  protected retire(key: string, how: RetirePerson): void {
    this.stayed.set(null);
    const retiring = this.service.retire(key, how).pipe(
      map(({ given, people }) => {
        const [first] = given.refused;
        if (first !== undefined)
          this.stayed.set(
            `${countOf('lead', given.refused.length)} ${given.refused.length === 1 ? 'stays' : 'stay'}, so nobody was retired: ${first.why}`,
          );
        return people;
      }),
    );
    this.run(retiring);
  }

  protected addTeam(name: string): void {
    if (name.trim() !== '') this.run(this.service.makeTeam(name.trim()));
  }

  protected save(key: string, change: ChangeRep): void {
    this.run(this.service.change(key, change));
  }

  protected run(change: Observable<People>): void {
    change.subscribe({
      next: (people) => {
        this.loaded.set({ state: 'ready', value: people });
        this.editing.set(null);
        this.editingTeam.set(null);
        this.problem.set(null);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}

function worksWords({ worksNow, backAt, zone }: PersonRow): string {
  if (worksNow) return zone === null ? 'any hour' : 'now';
  return backAt === null ? 'not in sight' : `from ${momentWords(backAt)}`;
}
