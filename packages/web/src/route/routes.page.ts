import { CdkDrag, type CdkDragDrop, CdkDragHandle, CdkDropList } from '@angular/cdk/drag-drop';
import { DatePipe, DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import {
  addRoute,
  addStream,
  changeRoutes,
  changeStream,
  type Condition,
  conditionWords,
  copyRoute,
  demandsWords,
  type Destination,
  destinationWords,
  type Finding,
  findingWords,
  fixOf,
  METHOD_WORDS,
  moveRoute,
  moveStream,
  choosesAmong,
  type NobodyFree,
  type Route,
  type RouteKey,
  type Stream,
  takeOutStream,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { catchError, of } from 'rxjs';
import { AgoPipe } from '../api/ago.pipe';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { CountsService } from '../charter/counts.service';
import { freshKey } from '../ui/fresh-key';
import { ConditionEditor } from '../condition/condition-editor';
import { DraftNote } from '../frame/draft-note';
import { ImpactService } from '../impact/impact.service';
import { PeopleService } from '../people/people.service';
import { WordingService } from '../wording/wording.service';
import { TracerService } from '../tracer/tracer.service';
import { codeOf, destinationOf } from './destinations';
import { NextTen } from './next-ten';
import { RouteChoice } from './route-choice';
import { StreamForm } from './stream-form';
import { StreamHead } from './stream-head';
import { StreamRuns } from './stream-runs';
import { type Funnel, funnelOf } from './funnel';

/** The route beside which a finding is shown: of two, the one that stands first in words. Null: it is of no route. */
function standsAt(finding: Finding): RouteKey | null {
  switch (finding.code) {
    case 'route-never-reached':
    case 'empty-team':
    case 'nobody-can-take':
      return finding.route;
    case 'gap-between-numbers':
      return finding.below;
    case 'unusable':
    case 'no-such-kind':
    case 'scores-read-gate':
    case 'overlap':
    case 'swallowed':
    case 'territory-unused':
      return null;
  }
}

/** Routes in order, first match wins; order and targets are changed in the draft. */
@Component({
  selector: 'rv-routes',
  imports: [
    AgoPipe,
    DatePipe,
    DecimalPipe,
    FormsModule,
    RouterLink,
    CdkDropList,
    CdkDrag,
    CdkDragHandle,
    SelectModule,
    ConditionEditor,
    DraftNote,
    NextTen,
    RouteChoice,
    StreamForm,
    StreamHead,
    StreamRuns,
    Waiting,
  ],
  templateUrl: './routes.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RoutesPage {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly impacts = inject(ImpactService);
  protected readonly tracer = inject(TracerService);
  protected readonly editing = signal<string | null>(null);
  /** What no route takes, as if all came in. */
  protected readonly left = computed(() => this.impacts.tally()?.lastResort ?? null);
  protected readonly people = toSignal(
    inject(PeopleService)
      .people()
      .pipe(catchError(() => of(null))),
    { initialValue: null },
  );
  private readonly counts = toSignal(asLoaded(inject(CountsService).rules()), { initialValue: LOADING });

  protected readonly targets = computed(() => {
    const people = this.people();
    return [
      {
        label: 'Teams',
        items: (people?.teams ?? []).map(({ key, name }) => ({ label: name, value: `team:${key}` })),
      },
      {
        label: 'Queues',
        items: (people?.queues ?? []).map(({ key, name }) => ({ label: `Queue ${name}`, value: `queue:${key}` })),
      },
      {
        label: 'People',
        items: (people?.people ?? [])
          .filter((person) => person.mayTakeLeads)
          .map(({ key, name }) => ({ label: name, value: `rep:${key}` })),
      },
    ];
  });

  constructor() {
    effect(() => {
      this.impacts.impact();
      untracked(() => void this.impacts.find().catch(() => undefined));
    });
  }

  private readonly findings = computed(() => {
    const draft = this.charters.draft();
    const wording = this.charters.wording();
    return [...(draft?.findings ?? []), ...this.impacts.findings()].map((finding) => ({
      ...finding,
      words: findingWords(finding, wording),
      fix: draft && fixOf(finding, draft.charter, wording),
      witness: finding.code === 'gap-between-numbers' ? finding.witness : [],
    }));
  });

  protected readonly streams = computed(() => {
    const before = this.charters.inForce()?.charter.streams.flatMap((stream) => stream.routes) ?? [];
    const { routes: counts = {}, routesChanged: changed = {} } = valueOf(this.counts()) ?? {};
    const tally = this.impacts.tally();
    const { names } = this.words.wording();
    const streams = this.charters.shown()?.streams ?? [];
    const taken = this.charters.draft() === null ? null : this.impacts.taken();
    const funnelBefore = taken && funnelOf(before, (route) => taken.routes[route] ?? 0, taken.lastResort);
    const funnel = funnelOf(
      streams.flatMap(({ routes }) => routes),
      (route) => tally?.routes[route]?.takes ?? counts[route]?.leads ?? 0,
      tally?.lastResort ?? 0,
    );
    return streams.map((stream) => ({
      stream,
      names,
      nobodyFree: stream.nobodyFree ?? ({ kind: 'wait' } satisfies NobodyFree),
      routes: stream.routes.map((route, at) => {
        const old = before.findIndex((one) => one.key === route.key);
        const oldTo = before[old]?.to;
        const oldTarget = oldTo && codeOf(oldTo) !== codeOf(route.to) ? this.targetName(oldTo) : null;
        return {
          route,
          when: conditionWords(route.when, this.charters.wording()),
          target: codeOf(route.to),
          targetName: this.targetName(route.to),
          options: this.targetsWith(route.to),
          how: this.howWords(route),
          funnel: funnel.get(route.key),
          funnelBefore: funnelBefore?.get(route.key),
          oldTarget,
          fresh: old < 0,
          moved: this.isMoved(stream.routes, at, before),
          leads: counts[route.key]?.leads ?? 0,
          waiting: counts[route.key]?.waiting ?? 0,
          last: counts[route.key]?.last ?? null,
          changed: changed[route.key] ?? null,
          findings: this.findings().filter((finding) => standsAt(finding) === route.key),
          tally: tally?.routes[route.key] ?? null,
          share: (100 * (tally?.routes[route.key]?.takes ?? 0)) / Math.max(1, tally?.routed ?? 0),
        };
      }),
    }));
  });
  protected readonly lastResort = computed(() =>
    this.words.wording().names.queue(this.charters.shown()?.lastResort.lead ?? ''),
  );

  /** Another route that is in force too stands before it now, or no longer does. */
  private isMoved(routes: readonly Route[], at: number, before: readonly Route[]): boolean {
    const known = before.map((route) => route.key).filter((key) => routes.some((route) => route.key === key));
    const here = routes.map((route) => route.key).filter((key) => known.includes(key));
    const key = routes[at]?.key;
    return key !== undefined && known.includes(key) && known.indexOf(key) !== here.indexOf(key);
  }

  private targetName(to: Destination): string {
    const words = destinationWords(to, this.words.wording().names);
    return words.charAt(0).toUpperCase() + words.slice(1);
  }

  /** The destinations that can be chosen at once, and the one that it has. */
  private targetsWith(to: Destination): ReturnType<typeof this.targets> {
    const groups = this.targets();
    const code = codeOf(to);
    if (groups.some(({ items }) => items.some(({ value }) => value === code))) return groups;
    return [{ label: 'As it is', items: [{ label: this.targetName(to), value: code }] }, ...groups];
  }

  /** How one of several is chosen, and what differs from the usual. */
  private howWords(route: Route): string {
    const { names } = this.words.wording();
    const method = choosesAmong(route.to) ? METHOD_WORDS[route.method ?? 'round-robin'] : '';
    if (!choosesAmong(route.to) && route.to.kind !== 'rep' && route.to.kind !== 'company-owner') return '';
    return [method, demandsWords(route, names)].filter((part) => part !== '').join('; ');
  }

  protected replace(stream: string, changed: Route): void {
    this.edit(stream, changed.key, () => changed);
  }

  protected copy(stream: string, route: Route): void {
    const key = this.freshRouteKey();
    this.charters.change((charter) => copyRoute(charter, stream, route.key, key));
    this.editing.set(key);
  }

  private freshRouteKey(): RouteKey {
    const taken = (this.charters.shown()?.streams ?? []).flatMap((one) =>
      one.routes.map((route) => route.key as string),
    );
    return freshKey('route', taken) as RouteKey;
  }

  /** A trapezium: as wide above as what comes to the route, as wide below as what is left after it. */
  protected shapeOf({ comes, left }: Funnel): string {
    const [above, below] = [50 * comes, 50 * left];
    return `${50 - above},0 ${50 + above},0 ${50 + below},30 ${50 - below},30`;
  }

  protected drop(stream: string, event: CdkDragDrop<unknown>): void {
    this.move(stream, event.previousIndex, event.currentIndex);
  }

  protected move(stream: string, from: number, to: number): void {
    if (from !== to) this.charters.change((charter) => moveRoute(charter, stream, from, to));
  }

  protected aim(stream: string, key: string, code: string): void {
    this.edit(stream, key, (route) => ({ ...route, to: destinationOf(code) }));
  }

  protected rename(stream: string, key: string, name: string): void {
    if (name.trim() !== '') this.edit(stream, key, (route) => ({ ...route, name: name.trim() }));
  }

  protected turn(stream: string, key: string): void {
    this.edit(stream, key, (route) => ({ ...route, on: !route.on }));
  }

  protected ask(stream: string, key: string, when: Condition): void {
    this.edit(stream, key, (route) => ({ ...route, when }));
  }

  protected takeOut(stream: string, key: string): void {
    this.charters.change((charter) =>
      changeRoutes(charter, stream, (routes) => routes.filter((route) => route.key !== key)),
    );
  }

  protected add(stream: string): void {
    const key = this.freshRouteKey();
    this.charters.change((charter) => addRoute(charter, stream, key, 'New route'));
    this.editing.set(key);
  }

  protected addStream(): void {
    const taken = (this.charters.shown()?.streams ?? []).map((one) => one.key);
    const key = freshKey('stream', taken);
    this.charters.change((charter) => addStream(charter, key, 'New stream'));
    this.editing.set(key);
  }

  protected moveStream(key: string, by: -1 | 1): void {
    this.charters.change((charter) => moveStream(charter, key, by));
  }

  protected takeStreamOut(key: string): void {
    this.charters.change((charter) => takeOutStream(charter, key));
  }

  protected changeStream(key: string, change: Partial<Stream>): void {
    this.charters.change((charter) => changeStream(charter, key, change));
  }

  private edit(stream: string, key: string, change: (route: Route) => Route): void {
    this.charters.change((charter) =>
      changeRoutes(charter, stream, (routes) => routes.map((route) => (route.key === key ? change(route) : route))),
    );
  }
}
