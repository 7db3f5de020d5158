import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { Router } from '@angular/router';
import {
  type Axis,
  BAY_LABEL,
  type Flow,
  type Grid,
  placeInCharter,
  type Reach,
  type Band,
  mergedOrder,
  type Shifted,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { catchError, debounceTime, EMPTY, filter, from, switchMap } from 'rxjs';
import { haveSameParts } from '../api/keep-equal';
import { valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { GradeBadge } from '../ui/grade-badge';
import { WordingService } from '../wording/wording.service';
import { ShiftLinks } from './shift-links';
import { TracerService } from '../tracer/tracer.service';
import { REACH_CHOICES, SCOPE_CHOICES, scopeNamed } from '../impact/enact-choices';
import { FlowChart, type FlowNode } from '../impact/flow-chart';
import { ImpactService } from '../impact/impact.service';
import { bandFlows, difference, gradeParts, gridsOf, labelWords, withChange } from '../impact/impact-words';
import { ShiftChart } from '../impact/shift-chart';
import { loadShifts, stageShifts, standing, territoryShifts } from '../impact/shifts';

/** How long the leads shown must stay before their names are asked for, ms. */
const NAMES_PAUSE = 100;

type Tab = 'grade' | 'stage' | 'territory' | 'owner';

/** At the right of every page of the course: what the open draft changes, over all leads, while one types. */
@Component({
  selector: 'rv-impact-panel',
  imports: [DatePipe, DecimalPipe, FormsModule, SelectModule, Waiting, FlowChart, ShiftChart, ShiftLinks, GradeBadge],
  templateUrl: './impact-panel.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ImpactPanel {
  protected readonly impacts = inject(ImpactService);
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly tracer = inject(TracerService);
  private readonly router = inject(Router);
  private readonly names = signal<ReadonlyMap<number, { readonly name: string; readonly company: string }>>(new Map());

  protected readonly scopes = [...SCOPE_CHOICES];
  protected readonly reaches = [...REACH_CHOICES];
  protected readonly scope = signal('all');
  protected readonly reach = signal<Reach>('score');
  protected readonly tab = signal<Tab>('grade');
  protected readonly tabs = [
    { key: 'grade', name: 'Grade' },
    { key: 'stage', name: 'Stage' },
    { key: 'territory', name: 'Territory' },
    { key: 'owner', name: 'Owner' },
  ] as const;

  /** Of those that change grade only these are listed; null: all. */
  protected readonly only = signal<Only | null>(null);

  /** All that gates ask counts as accepted. */
  protected readonly accepted = computed(() => this.impacts.reading().accepted === true);
  /** Whether some gate of either charter asks a person. */
  protected readonly someAsk = computed(() =>
    [this.before(), this.draft()].some((charter) =>
      charter?.gates.some(({ on, decider }) => on && decider.kind === 'asks'),
    ),
  );

  protected readonly cameIn = computed(() => this.impacts.reading().kind === 'came-in');
  protected readonly impact = this.impacts.impact;
  protected readonly loading = computed(() => {
    const state = this.impacts.state();
    return state.state === 'ready' ? null : state;
  });
  protected readonly size = computed(() => valueOf(this.impacts.state())?.size ?? null);
  protected readonly asOf = computed(() => valueOf(this.impacts.state())?.asOf ?? 0);
  private readonly draft = computed(() => this.charters.shown());
  /** Why nothing can be counted: the first part that names what is not there. */
  protected readonly unusable = computed(() => {
    const [first] = this.impacts.problems();
    return first && `${placeInCharter(this.draft(), first.path).words}: ${first.message}`;
  });
  private readonly before = computed(() => this.charters.inForce()?.charter ?? null);
  /** Most edits leave all grids as they are: then no picture of grades is drawn anew. */
  private readonly grids = {
    before: computed(() => gridsOf(this.before()), { equal: haveSameParts }),
    draft: computed(() => gridsOf(this.draft()), { equal: haveSameParts }),
  };

  /** Moves between the bands of each axis. */
  protected readonly bandMoves = computed(() => [this.movesOn('fit'), this.movesOn('engagement')]);

  /** The picture of the tab; the one of grades shows who moved where. */
  protected readonly shifts = computed(() => {
    const { names } = this.words.wording();
    const [facets, owners, tab] = [this.impact()?.facets, this.impacts.owners(), this.tab()];
    if (facets === undefined || tab === 'grade') return null;
    switch (tab) {
      case 'stage':
        return stageShifts(facets.stage, this.before(), this.draft(), names);
      case 'territory':
        return territoryShifts(facets.territory, names);
      case 'owner':
        return owners && loadShifts(owners, names);
    }
  });
  protected readonly pictureLabel = computed(() => {
    const said = (this.shifts() ?? []).map(({ name, before, after }) => `${name} ${before} to ${after}`);
    return `In force and in the draft: ${said.join(', ')}`;
  });
  protected readonly behind = computed(() => this.tab() === 'owner' && this.impacts.ownersBehind());
  protected readonly counting = computed(() => this.tab() === 'owner' && this.impacts.owners() === null);
  protected readonly rows = computed(() => {
    const now = this.impact();
    if (now === null) return [];
    const owners = this.impacts.owners();
    const handed = { before: now.course.before.gates, after: now.course.after.gates };
    const bay = owners === null ? null : standing(owners.owners, BAY_LABEL);
    const owned = owners?.course ?? null;
    const row = (
      name: string,
      tab: Tab | null,
      before: number | null,
      change: string | null,
      counts: 'shown' | 'counting' | 'behind' = 'shown',
    ) => ({ name, tab, before, change, counts });
    const ofOwners = owners === null ? 'counting' : this.impacts.ownersBehind() ? 'behind' : 'shown';
    return [
      row('Scores', null, null, withChange(now.score)),
      row(this.handedOverName(), 'stage', handed.before, difference(handed)),
      row('Stages that move', 'stage', null, withChange(now.facets.stage.changed)),
      ...(now.asked.before + now.asked.after === 0
        ? []
        : [row('A person is asked about', null, now.asked.before, difference(now.asked))]),
      row('Territories that change', 'territory', null, withChange(now.facets.territory.changed)),
      row('With an owner', 'owner', owned?.before ?? null, owned && difference(owned), ofOwners),
      row('Owners that change', 'owner', null, owners && withChange(owners.owners.changed), ofOwners),
      row('Waiting in the bay', 'owner', bay?.before ?? null, bay && difference(bay), ofOwners),
    ];
  });

  private movesOn(axis: Axis): BandMoves {
    const [before, draft] = [this.grids.before(), this.grids.draft()];
    const flows = bandFlows(this.impact()?.facets.grade.flows ?? [], axis, before, draft);
    // Of several sets only those bands that some lead is in.
    const seen = new Set(flows.flatMap(({ from, to }) => [from, to]));
    const known = [...bandsOf(draft, axis), ...bandsOf(before, axis)];
    const depths = new Map([...known].reverse().map(({ key, depth }) => [key, depth]));
    const namesIn = (grids: readonly Grid[]) =>
      new Map([...bandsOf(grids, axis)].reverse().map(({ key, name }) => [key, name]));
    const [namedBefore, namedAfter] = [namesIn(before), namesIn(draft)];
    const order = mergedOrder(keysOf(bandsOf(draft, axis)), keysOf(bandsOf(before, axis)));
    const nodes = [
      ...order.flatMap((key) =>
        seen.has(key)
          ? [
              {
                label: key,
                before: namedBefore.get(key) ?? namedAfter.get(key) ?? key,
                after: namedAfter.get(key) ?? namedBefore.get(key) ?? key,
                depth: depths.get(key) ?? 0,
              },
            ]
          : [],
      ),
      { label: '', before: '–', after: '–', depth: 0 },
    ];
    return { axis, name: axis === 'fit' ? 'Fit' : 'Engagement', flows, nodes };
  }

  /** Those that change in what the tab shows, or only those that go one way. */
  private readonly listed = computed((): Shifted => {
    const [tab, only, impact] = [this.tab(), this.only(), this.impact()];
    if (tab === 'owner' || impact === null) return { count: 0, leads: [] };
    if (tab === 'grade' && only !== null) return impact.shifts[only.of][only.way];
    return { count: impact.facets[tab].changed, leads: impact.leads[tab] };
  });
  private readonly ids = computed(() => {
    const leads = this.tab() === 'owner' ? (this.impacts.owners()?.leads ?? []) : this.listed().leads;
    return leads.slice(0, 12).map(({ id }) => id);
  });
  protected readonly more = computed(() => {
    const changed = this.tab() === 'owner' ? (this.impacts.owners()?.owners.changed ?? 0) : this.listed().count;
    return changed - this.ids().length;
  });
  protected readonly leads = computed(() => {
    const tab = this.tab();
    const { names } = this.words.wording();
    const nameOf = (id: number): string => {
      const lead = this.names().get(id);
      return lead === undefined ? `Lead ${id}` : lead.company || lead.name;
    };
    if (tab === 'owner')
      return (this.impacts.owners()?.leads ?? []).slice(0, 12).map(({ id, from, to }) => ({
        id,
        name: nameOf(id),
        grades: null,
        from: labelWords('place', from, names),
        to: labelWords('place', to, names),
      }));
    return this.listed()
      .leads.slice(0, 12)
      .map((lead) => ({
        id: lead.id,
        name: nameOf(lead.id),
        grades:
          tab === 'grade'
            ? {
                before: gradeParts(lead.grade[0], this.grids.before()),
                after: gradeParts(lead.grade[1], this.grids.draft()),
                bands: Math.max(1, ...this.grids.draft().map(({ engagement }) => engagement.bands.length)),
              }
            : null,
        from: tab === 'grade' ? '' : labelWords(tab, lead[tab][0], names),
        to: tab === 'grade' ? '' : labelWords(tab, lead[tab][1], names),
      }));
  });

  constructor() {
    this.impacts.want();
    toObservable(this.ids)
      .pipe(
        filter((ids) => ids.length > 0),
        // Numbers are drawn first; while one types, only the names that stay are asked for.
        debounceTime(NAMES_PAUSE),
        switchMap((ids) => from(this.impacts.namesOf(ids)).pipe(catchError(() => EMPTY))),
        takeUntilDestroyed(),
      )
      .subscribe((names) => {
        this.names.set(new Map(names));
      });
  }

  private handedOverName(): string {
    const stages = new Set((this.draft()?.streams ?? []).flatMap((stream) => stream.entering));
    return [...stages].map((stage) => this.words.wording().names.stage(stage)).join(', ') || 'Handed over';
  }

  protected read(kind: 'came-in' | 'on-enact', counted = this.accepted()): void {
    const accepted = counted ? { accepted: true } : {};
    this.impacts.reading.set(
      kind === 'came-in'
        ? { kind, ...accepted }
        : { kind, reach: this.reach(), scope: scopeNamed(this.scope()), ...accepted },
    );
  }

  protected countAccepted(accepted: boolean): void {
    this.read(this.impacts.reading().kind, accepted);
  }

  protected chooseScope(value: string): void {
    this.scope.set(value);
    this.read('on-enact');
  }

  protected chooseReach(value: Reach): void {
    this.reach.set(value);
    this.read('on-enact');
  }

  /** The way whose leads are listed of those that change on an axis, or in grade; null: all are. */
  protected shownOf(of: Only['of']): Only['way'] | null {
    const only = this.only();
    return only?.of === of ? only.way : null;
  }

  /** Lists only those that rise, or fall; once more, and all are listed again. */
  protected showOnly(of: Only['of'], way: Only['way']): void {
    const isShown = this.shownOf(of) === way;
    this.tab.set('grade');
    this.only.set(isShown ? null : { of, way });
  }

  /** Opens the lead's reasoning under both charters, side by side. */
  protected open(id: number): void {
    this.tracer.carry('lead', id);
    void this.router.navigateByUrl('/tracer');
  }
}

/** Bands from the best down, set by set, each with how deep it is shown. */
function bandsOf(grids: readonly Grid[], axis: Axis): (Band & { readonly depth: number })[] {
  return grids.flatMap((grid) => grid[axis].bands.map((band, place) => ({ ...band, depth: place + 1 })).reverse());
}

function keysOf(bands: readonly Band[]): string[] {
  return [...new Set(bands.map(({ key }) => key))];
}

/** Moves between the bands of an axis. */
interface BandMoves {
  readonly axis: Axis;
  readonly name: string;
  readonly flows: readonly Flow[];
  readonly nodes: readonly FlowNode[];
}

/** A way in which grades change: as a whole, or on one axis. */
interface Only {
  readonly of: 'grade' | Axis;
  readonly way: 'up' | 'down';
}
