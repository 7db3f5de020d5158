import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import type { Fairness, RouteFairness } from '@relvik/contracts';
import { EXCLUSION_NAMES, exclusionWords, type RepShare } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { OWN_ZONE } from '../people/moment-words';
import { PeopleService } from '../people/people.service';
import { WordingService } from '../wording/wording.service';

/** Expected and actual leads by route and person, with the reasons for being passed over; all people, or one. */
@Component({
  selector: 'rv-fairness',
  imports: [DatePipe, DecimalPipe, FormsModule, RouterLink, SelectModule, Waiting],
  templateUrl: './fairness.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FairnessPage {
  private readonly router = inject(Router);
  private readonly words = inject(WordingService);
  private readonly people = inject(PeopleService);
  /** From the address: one person; missing: all. */
  readonly rep = input<string>();
  /** From the address: `charter` since the charter came into force; else 30 days. */
  readonly since = input<string>();

  private readonly asked = computed(() => (this.since() === 'charter' ? ('charter' as const) : ('days' as const)));
  protected readonly loaded = toSignal(
    toObservable(this.asked).pipe(switchMap((since) => asLoaded(this.people.fairness({ since })))),
    { initialValue: LOADING },
  );
  protected readonly fairness = computed(() => valueOf(this.loaded()));
  protected readonly spans = [
    { label: 'in the last 30 days', value: 'days' },
    { label: 'since the charter came into force', value: 'charter' },
  ];
  protected readonly span = this.asked;

  protected readonly names = computed(() => this.words.wording().names);
  protected readonly choices = computed(() => {
    const shares = (this.fairness()?.routes ?? []).flatMap((route) => route.shares);
    const keys = [...new Set(shares.map(({ rep }) => rep))];
    const known = keys.map((value) => ({ value: value, label: this.names().rep(value) }));
    return [{ value: null, label: 'Everyone' }, ...known.sort((a, b) => (a.label < b.label ? -1 : 1))];
  });
  /** The reason why the chosen person can't be given a lead now. */
  protected readonly now = computed(() => {
    const passed = this.fairness()?.now.find(({ rep }) => rep === this.rep());
    return passed === undefined ? 'can be given leads now' : exclusionWords(passed.exclusion, this.names(), OWN_ZONE);
  });
  protected readonly routes = computed(() => {
    const who = this.rep();
    return (this.fairness()?.routes ?? []).flatMap((route) => {
      const shares = route.shares.filter(({ rep }) => who === undefined || rep === who);
      return shares.length === 0 ? [] : [this.rowsOf(route, shares)];
    });
  });
  /** Of one person, over all routes. */
  protected readonly sum = computed(() => {
    const rows = this.routes().flatMap(({ rows: all }) => all);
    return { should: rows.reduce((sum, row) => sum + row.should, 0), got: rows.reduce((sum, row) => sum + row.got, 0) };
  });

  private rowsOf(route: RouteFairness, shares: readonly RepShare[]) {
    const most = Math.max(1, ...route.shares.map(({ got, should }) => Math.max(got, should)));
    return {
      key: route.route,
      name: this.names().route(route.route),
      given: route.given,
      waited: route.waited,
      index: route.index,
      rows: shares.map((share) => ({
        ...share,
        name: this.names().rep(share.rep),
        bar: (100 * share.got) / most,
        mark: (100 * share.should) / most,
        why: share.passedOver.map(({ why, leads }) => `${EXCLUSION_NAMES[why]} ${leads}`).join(', '),
      })),
    };
  }

  protected show(change: Readonly<Record<string, string | null>>): void {
    void this.router.navigate([], { queryParams: change, queryParamsHandling: 'merge' });
  }

  protected cutNote({ cut }: Fairness): string {
    return cut ? 'only the newest 20,000 decisions are looked through' : '';
  }
}
