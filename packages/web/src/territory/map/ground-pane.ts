import {
  ChangeDetectionStrategy,
  Component,
  computed,
  inject,
  input,
  linkedSignal,
  model,
  signal,
  viewChild,
} from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { coverageOf, type GroundCount, tallyGrounds } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../../api/loaded';
import { Waiting } from '../../api/waiting';
import { CharterService } from '../../charter/charter.service';
import { ChosenGround } from './chosen-ground';
import { COLOUR_BY, type ColourBy, mapPicture, notDrawn } from './map-looks';
import { MAP_VIEWS, viewWithMost } from './map-views';
import { TeamLoads } from './team-loads';
import { type Chosen, TerritoryMap } from './territory-map';
import { WorldShapes } from './world-shapes.service';

/** The map of territories with what it tells, and the ground that is chosen on it. */
@Component({
  selector: 'rv-ground-pane',
  imports: [FormsModule, SelectModule, ChosenGround, TerritoryMap, Waiting],
  templateUrl: './ground-pane.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class GroundPane {
  private readonly charters = inject(CharterService);
  private readonly loads = inject(TeamLoads);
  private readonly map = viewChild(TerritoryMap);
  readonly counts = input.required<readonly GroundCount[]>();
  protected readonly loaded = toSignal(asLoaded(inject(WorldShapes).shapes), { initialValue: LOADING });
  protected readonly shapes = computed(() => valueOf(this.loaded()));
  protected readonly views = [...MAP_VIEWS];
  protected readonly measures = [...COLOUR_BY];
  protected readonly colourBy = signal<ColourBy>('territory');
  protected readonly lasso = signal(false);
  /** The codes of the ground that is chosen. */
  readonly chosen = model<ReadonlySet<string>>(new Set());

  private readonly list = computed(() => this.charters.shown()?.territories.list ?? []);
  private readonly coverage = computed(() => coverageOf(this.list()));
  private readonly before = computed(() => coverageOf(this.charters.inForce()?.charter.territories.list ?? []));

  /** At first the part of the world where most leads are. */
  protected readonly view = linkedSignal(() => viewWithMost(this.counts(), this.shapes() ?? []));

  protected readonly picture = computed(() =>
    mapPicture(this.shapes() ?? [], {
      ...{ territories: this.list(), coverage: this.coverage(), before: this.before() },
      ...{ counts: this.counts(), loads: this.loads.shares(), colourBy: this.colourBy() },
    }),
  );
  protected readonly beyond = computed(() => notDrawn(this.list(), this.shapes() ?? []));
  /** Every ground that can be chosen, for those who use no mouse. */
  protected readonly choosable = computed(() =>
    (this.shapes() ?? [])
      .filter(({ code }) => code !== '')
      .map(({ code, name }) => ({ code, name: code.includes('-') ? `${name} (${code.slice(0, 2)})` : name }))
      .sort((a, b) => a.name.localeCompare(b.name, 'en')),
  );
  protected readonly tallies = computed(() => tallyGrounds(this.counts()));

  protected choose({ codes, more }: Chosen): void {
    this.chosen.update((before) => {
      if (!more) return new Set(before.size === 1 && codes.length === 1 && before.has(codes[0] ?? '') ? [] : codes);
      const after = new Set(before);
      for (const code of codes)
        if (codes.length === 1 && after.has(code)) after.delete(code);
        else after.add(code);
      return after;
    });
  }

  /** Picked from the list for a moment: it is empty again afterwards. */
  protected readonly picked = signal<string | null>(null);

  protected add(code: string | null): void {
    this.picked.set(code);
    queueMicrotask(() => {
      this.picked.set(null);
    });
    if (code !== null && !this.chosen().has(code)) this.choose({ codes: [code], more: true });
  }

  protected zoom(factor: number): void {
    this.map()?.zoomBy(factor);
  }
}
