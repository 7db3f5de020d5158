import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import type { NextLeads, ProblemDocument } from '@relvik/contracts';
import {
  bindCharter,
  type Decision,
  decideInTurn,
  exclusionWords,
  JUST_IN,
  type MovingRecord,
  namesOf,
  type Names,
  placeWords,
  type World,
} from '@relvik/core';
import { problemOf } from '../api/problem';
import { ProblemNote } from '../api/problem-note';
import { CharterService } from '../charter/charter.service';
import { OWN_ZONE } from '../people/moment-words';
import { MomentForm } from '../tracer/moment-form';
import { MomentService } from '../tracer/moment.service';
import { NextLeadsService } from './next-leads.service';

/** The next leads through the charter that is shown, one after the other: who gets what, and why not the others. Nothing is changed. */
@Component({
  selector: 'rv-next-ten',
  imports: [RouterLink, MomentForm, ProblemNote],
  templateUrl: './next-ten.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NextTen {
  private readonly service = inject(NextLeadsService);
  private readonly charters = inject(CharterService);
  protected readonly moment = inject(MomentService);
  protected readonly world = signal<World | null>(null);
  private readonly found = signal<NextLeads | null>(null);
  private readonly asked = signal(Date.now());
  protected readonly problem = signal<ProblemDocument | null>(null);
  protected readonly unknown = computed(() => this.found()?.unknown.join(', ') ?? '');
  protected readonly ofDraft = computed(() => this.charters.draft() !== null);

  protected readonly rows = computed(() => {
    const charter = this.charters.shown();
    const world = this.world();
    const leads = this.found()?.leads ?? [];
    if (charter === null || world === null) return [];
    const binding = bindCharter(charter, world);
    if (!binding.ok) return [];
    const names = namesOf(charter, world);
    const at = this.moment.at() ?? this.asked();
    const records = leads.map(({ record }): MovingRecord => ({
      ...{ id: String(record.id), kind: 'lead', way: record.way, activities: record.activities },
      // It comes in at that moment.
      arrived: at,
      values: new Map(record.values),
      tied: new Map(record.tied),
      standing: { ...JUST_IN, pin: record.pin },
    }));
    return decideInTurn(binding.ready, records, this.moment.in(world), at).map((decision, i) => ({
      id: leads[i]?.record.id ?? 0,
      name: [leads[i]?.name, leads[i]?.company].filter(Boolean).join(' · '),
      ...rowOf(decision, names),
    }));
  });

  constructor() {
    this.ask(null);
  }

  /** @param text ids and e-mails, one a line; empty: the last that were routed */
  protected paste(text: string): void {
    const written = text.split(/[\s,;]+/).filter((one) => one !== '');
    this.ask(written.length === 0 ? null : written);
  }

  private ask(written: readonly string[] | null): void {
    this.service.read(written).subscribe({
      next: ({ world, next }) => {
        this.asked.set(Date.now());
        this.world.set(world);
        this.found.set(next);
        this.problem.set(null);
      },
      error: (error: unknown) => {
        this.problem.set(problemOf(error));
      },
    });
  }
}

/** Where a decision led, by which route, and who was passed over. */
function rowOf(decision: Decision, names: Names): { route: string; place: string; waits: boolean; skipped: string } {
  const { routing, place, placedBy } = decision;
  const match = routing?.match;
  const route = placedBy ?? (match?.kind === 'matched' ? match.route : null);
  return {
    route: route !== null ? names.route(route) : match?.kind === 'none' ? 'last resort' : 'not routed',
    place: place.kind === 'bay' ? 'waits' : placeWords(place, names),
    waits: place.kind === 'bay',
    // People who never take leads, such as the manager of a team, are left out.
    skipped: decision.skipped
      .filter(({ exclusion }) => exclusion.why !== 'may-not-take-leads')
      .map(({ rep, exclusion }) => `${names.rep(rep)} ${exclusionWords(exclusion, names, OWN_ZONE)}`)
      .join('; '),
  };
}
