import { computed, inject, Injectable } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { asLoaded, LOADING, valueOf } from '../../api/loaded';
import { PeopleService } from '../../people/people.service';

/** The open leads of a team, and as many as its people take together; null: some of them without a limit. */
export interface TeamLoad {
  readonly key: string;
  readonly name: string;
  readonly open: number;
  readonly limit: number | null;
}

/** How many open leads teams have, against the limits of their people. */
@Injectable({ providedIn: 'root' })
export class TeamLoads {
  private readonly people = toSignal(asLoaded(inject(PeopleService).people()), { initialValue: LOADING });

  readonly teams = computed((): readonly TeamLoad[] => {
    const people = valueOf(this.people());
    if (people === null) return [];
    const limits = new Map(people.people.map(({ key, mayTakeLeads, limit }) => [key, mayTakeLeads ? limit : 0]));
    return people.teams.map(({ key, name, open, members }) => ({
      ...{ key, name, open },
      limit: members.reduce((sum: number | null, member) => {
        const limit = limits.get(member) ?? null;
        return sum === null || limit === null ? null : sum + limit;
      }, 0),
    }));
  });
  readonly persons = computed(() => valueOf(this.people())?.people.map(({ key, name }) => ({ key, name })) ?? []);

  /** By team its open leads over its limit; null: it has none. */
  readonly shares = computed(
    () =>
      new Map(this.teams().map(({ key, open, limit }) => [key, limit === null || limit === 0 ? null : open / limit])),
  );
}
