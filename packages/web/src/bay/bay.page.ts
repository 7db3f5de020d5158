import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import type { Bay, BayGroup, ProblemDocument } from '@relvik/contracts';
import { bayWords, firstToWork, freeingWords, type Names } from '@relvik/core';
import { CheckboxModule } from 'primeng/checkbox';
import type { Observable } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, type Loaded, LOADING, valueOf } from '../api/loaded';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { Waiting } from '../api/waiting';
import { ListSelection } from '../list/list-selection';
import { momentWords, OWN_ZONE } from '../people/moment-words';
import { GiveLeads } from '../record/give-leads';
import { SessionService } from '../session/session.service';
import { WordingService } from '../wording/wording.service';
import { BayService } from './bay.service';

/** Number of leads of a group that are shown at first. */
const FEW = 5;

/** The bay: what waits, for what, who could take it and when; leads are given away from here. */
@Component({
  selector: 'rv-bay',
  imports: [FormsModule, RouterLink, CheckboxModule, AgoPipe, GiveLeads, ProblemNote, Waiting],
  templateUrl: './bay.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BayPage {
  private readonly service = inject(BayService);
  private readonly words = inject(WordingService);
  protected readonly admin = inject(SessionService).is('admin');
  protected readonly loaded = signal<Loaded<Bay>>(LOADING);
  protected readonly bay = computed(() => valueOf(this.loaded()));
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly selection = new ListSelection();
  private readonly unfolded = signal<readonly string[]>([]);

  protected readonly total = computed(() => (this.bay()?.groups ?? []).reduce((sum, { leads }) => sum + leads, 0));
  protected readonly groups = computed(() => {
    const { names } = this.words.wording();
    // Leads that wait for people come first: they can be given away here.
    const all = (this.bay()?.groups ?? []).toSorted((a, b) => Number(isMended(a)) - Number(isMended(b)));
    return all.map((group) => ({
      ...group,
      shown: this.unfolded().includes(JSON.stringify(group.reason)) ? group.oldest : group.oldest.slice(0, FEW),
      key: JSON.stringify(group.reason),
      title: bayWords(group.reason, names),
      link: linkOf(group),
      first: firstWords(group, names),
      freeing: freeingOf(group, names),
      folded: !this.unfolded().includes(JSON.stringify(group.reason)) && group.oldest.length > FEW,
      more: group.leads - group.oldest.length,
    }));
  });

  constructor() {
    this.load();
  }

  protected load(): void {
    asLoaded(this.service.bay()).subscribe((bay) => {
      // Keeps the old list on screen during a reload.
      if (bay.state !== 'loading' || this.bay() === null) this.loaded.set(bay);
    });
  }

  protected unfold(key: string): void {
    this.unfolded.update((keys) => [...keys, key]);
  }

  protected tellAfter(text: string): void {
    const hours = text.trim() === '' ? null : Number(text);
    this.run(this.service.setAlarm({ hours }));
  }

  private run(change: Observable<Bay>): void {
    change.subscribe({
      next: (bay) => {
        this.loaded.set({ state: 'ready', value: bay });
        this.problem.set(null);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}

/** Whether it leaves the bay once something is put right elsewhere. */
function isMended({ reason }: BayGroup): boolean {
  return reason.why !== 'nobody-free';
}

/** Where it is put right, if not by people who become free. */
function linkOf({ reason }: BayGroup): { readonly to: string; readonly words: string } | null {
  switch (reason.why) {
    case 'unjudged':
      return { to: '/unjudged', words: 'Correct the values' };
    case 'loop':
      return { to: '/gates', words: 'Mend the gates' };
    case 'scheduled':
      return { to: '/routes', words: 'See when it runs' };
    case 'nobody-free':
      return null;
  }
}

function firstWords({ skipped }: BayGroup, names: Names): string {
  const first = firstToWork(skipped);
  return first === null ? '' : `${names.rep(first.rep)}, ${momentWords(first.at)}`;
}

/** The people who could take the oldest lead, each with the condition. */
function freeingOf({ skipped }: BayGroup, names: Names): { readonly name: string; readonly when: string }[] {
  return skipped.flatMap(({ rep, exclusion }) => {
    const when = freeingWords(exclusion, names, OWN_ZONE);
    return when === null ? [] : [{ name: names.rep(rep), when }];
  });
}
