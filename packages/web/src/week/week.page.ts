import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { toObservable, toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router, RouterLink } from '@angular/router';
import type { WeekMember } from '@relvik/contracts';
import { SelectModule } from 'primeng/select';
import { of, switchMap } from 'rxjs';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { momentWords, OWN_ZONE } from '../people/moment-words';
import { PeopleService } from '../people/people.service';
import { SessionService } from '../session/session.service';
import { WordingService } from '../wording/wording.service';
import { type CalendarDay, daysOfWeek, drawnIn, hoursIn, isDayOff, mondayIn, mondayOf } from './week-days';

/** A team over a week: who works when by the reader’s clock, who works now, loads, and to whom the next leads would go. */
@Component({
  selector: 'rv-week',
  imports: [FormsModule, RouterLink, SelectModule, Waiting],
  templateUrl: './week.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WeekPage {
  private readonly router = inject(Router);
  private readonly words = inject(WordingService);
  private readonly service = inject(PeopleService);
  private readonly session = inject(SessionService).session;
  /** From the address: the team; missing: the first. */
  readonly team = input<string>();
  /** From the address: a day of the week, `2026-11-30`; missing: this week. */
  readonly day = input<string>();

  protected readonly zone = OWN_ZONE;
  private readonly people = toSignal(this.service.people());
  /** The teams whose weeks the user may see. */
  protected readonly teams = computed(() => {
    const own = this.session();
    const all = this.people()?.teams ?? [];
    return own?.role === 'admin' ? [...all] : all.filter(({ leaders }) => leaders.includes(own?.key ?? ''));
  });
  protected readonly chosen = computed(() => this.team() ?? this.teams()[0]?.key ?? null);
  protected readonly monday = computed(() => mondayIn(this.day() ?? '') ?? mondayOf(Date.now()));
  protected readonly days = computed(() => daysOfWeek(this.monday()));
  private readonly asked = computed(() => {
    const [team, days] = [this.chosen(), this.days()];
    return team === null ? null : { team, from: days[0]?.from ?? 0, to: days.at(-1)?.to ?? 0 };
  });
  protected readonly loaded = toSignal(
    toObservable(this.asked).pipe(
      switchMap((query) => (query === null ? of(LOADING) : asLoaded(this.service.week(query)))),
    ),
    { initialValue: LOADING },
  );
  protected readonly week = computed(() => valueOf(this.loaded()));

  protected readonly rows = computed(() => {
    const week = this.week();
    const { names } = this.words.wording();
    return (week?.members ?? []).map((member) => ({
      key: member.key,
      name: names.rep(member.key),
      zone: member.zone ?? 'works at any hour',
      now: nowWords(member),
      works: member.worksNow && !member.away,
      load: member.limit === null ? String(member.open) : `${member.open} of ${member.limit}`,
      share: member.limit === null ? 0 : Math.min(100, (100 * member.open) / Math.max(1, member.limit)),
      full: member.limit !== null && member.open >= member.limit,
      next: member.next.map((route) => names.route(route)).join(', '),
      days: this.days().map((day) => dayOf(day, member)),
    }));
  });
  /** Where the line of this moment is drawn in each day; null: not in this day. */
  protected readonly nowLine = computed(() => {
    const now = this.week()?.now ?? 0;
    return this.days().map((day) => drawnIn(day, { from: now, to: now + 1 })?.left ?? null);
  });

  protected go(weeks: number): void {
    this.show({ day: weeks === 0 ? null : this.monday().plus({ weeks }).toFormat('yyyy-MM-dd') });
  }

  protected show(change: Readonly<Record<string, string | null>>): void {
    void this.router.navigate([], { queryParams: change, queryParamsHandling: 'merge' });
  }
}

function nowWords({ away, worksNow, backAt }: WeekMember): string {
  if (away) return 'away';
  if (worksNow) return 'works now';
  return backAt === null ? 'no working hours in sight' : `from ${momentWords(backAt)}`;
}

function dayOf(day: CalendarDay, { stretches, daysOff }: WeekMember) {
  const hours = hoursIn(day, stretches);
  const none = isDayOff(day, daysOff) ? 'day off' : 'no hours';
  return {
    from: day.from,
    parts: stretches.flatMap((stretch) => drawnIn(day, stretch) ?? []),
    hours: hours === '' ? none : hours,
  };
}
