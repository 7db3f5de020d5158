import { DecimalPipe } from '@angular/common';
import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  model,
  output,
  signal,
  untracked,
} from '@angular/core';
import { RouterLink } from '@angular/router';
import { type GateWaits, type Meeting, type Reach } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { CharterService } from '../charter/charter.service';
import { ImpactService } from '../impact/impact.service';
import { WordingService } from '../wording/wording.service';

interface MeetingRow {
  readonly id: number;
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

/** As many receivers are named. */
const RECEIVERS = 6;

/** The effect of the draft's gates and routes when it is enacted: moves now and later, and the people who receive leads. */
@Component({
  selector: 'rv-gate-outlook',
  imports: [DecimalPipe, RouterLink, ButtonModule],
  templateUrl: './gate-outlook.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GateOutlook {
  protected readonly impacts = inject(ImpactService);
  private readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  readonly reach = input.required<Reach>();
  /** Whether tasks of gates and routes are made with it. */
  readonly tasks = model.required<boolean>();
  /** The user lets those that meet a gate through with the enacting. */
  readonly letThrough = output();

  protected readonly meeting = this.impacts.meeting;
  /** Those that meet a gate, once they are asked for. */
  private readonly asked = signal<{ readonly of: Meeting; readonly rows: readonly MeetingRow[] } | null>(null);
  protected readonly shown = computed(() => {
    const asked = this.asked();
    return asked !== null && asked.of === this.meeting() ? asked.rows : null;
  });
  protected readonly moves = computed(() => this.movesOf(this.meeting()));
  /** Whether routes of the draft make tasks. */
  protected readonly makesTasks = computed(() =>
    (this.charters.draft()?.charter.streams ?? []).some(({ routes }) =>
      routes.some(({ tasks = [] }) => tasks.length > 0),
    ),
  );
  protected readonly meetingDeals = signal<Meeting | null>(null);
  protected readonly movesOfDeals = computed(() => this.movesOf(this.meetingDeals()));

  private readonly waits = signal<Readonly<Record<string, GateWaits>>>({});
  /** Leads whose gate holds them back, by what for; empty: none. */
  protected readonly later = computed(() => {
    const all = Object.values(this.waits());
    const sum = (of: keyof GateWaits): number => all.reduce((total, one) => total + one[of], 0);
    const some = (count: number, words: string) => (count === 0 ? [] : [{ count, words }]);
    return [
      ...some(sum('time'), 'until they have been in their stage long enough'),
      ...some(sum('field'), 'until a field is filled'),
      ...some(sum('person'), 'until a person decides'),
    ];
  });

  /** People with more open leads afterwards, the largest increase first. */
  protected readonly receivers = computed(() => {
    if (this.reach() !== 'routes') return [];
    const { names } = this.words.wording();
    return (this.impacts.owners()?.loads ?? [])
      .map(({ rep, before, after }) => ({ name: names.rep(rep), more: after - before }))
      .filter(({ more }) => more > 0)
      .sort((a, b) => b.more - a.more)
      .slice(0, RECEIVERS);
  });

  constructor() {
    effect(() => {
      this.impacts.impact();
      untracked(() => void this.countWaits());
    });
  }

  private movesOf(meeting: Meeting | null): { readonly count: number; readonly way: string }[] {
    const { names } = this.words.wording();
    return (meeting?.moves ?? []).map(({ from, to, count }) => ({
      count,
      way: `${names.stage(from)} → ${names.stage(to)}`,
    }));
  }

  private async countWaits(): Promise<void> {
    const [leads, deals] = await Promise.all([
      this.impacts.waits('lead').catch(() => null),
      this.impacts.meetingDeals().catch(() => null),
    ]);
    if (leads !== null) this.waits.set(leads);
    this.meetingDeals.set(deals);
  }

  protected async show(): Promise<void> {
    const meeting = this.meeting();
    if (meeting === null) return;
    const { leads } = meeting;
    const names = await this.impacts.namesOf(leads.map(({ id }) => id));
    const { names: words } = this.words.wording();
    const nameOf = (id: number): string => {
      const { name = '', company = '' } = names.get(id) ?? {};
      return [name, company].filter((part) => part !== '').join(' · ') || `Lead ${id}`;
    };
    this.asked.set({
      of: meeting,
      rows: leads.map(({ id, from, to }) => ({ id, name: nameOf(id), from: words.stage(from), to: words.stage(to) })),
    });
  }
}
