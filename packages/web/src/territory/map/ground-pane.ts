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
import { countryName, type GroundCount, groundWords, tallyGrounds } from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../../api/loaded';
import { Waiting } from '../../api/waiting';
import { WordingService } from '../../wording/wording.service';
import { TerritoryDrawing } from '../territory-drawing';
import { ChosenGround } from './chosen-ground';
import { COLOUR_BY, type ColourBy, groundsBeyond, mapPicture } from './map-looks';
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
  private readonly drawing = inject(TerritoryDrawing);
  private readonly words = inject(WordingService);
  private readonly loads = inject(TeamLoads);
  private readonly map = viewChild(TerritoryMap);
  readonly counts = input.required<readonly GroundCount[]>();
  protected readonly loaded = toSignal(asLoaded(inject(WorldShapes).shapes), { initialValue: LOADING });
  protected readonly shapes = computed(() => valueOf(this.loaded()));
  protected readonly views = [...MAP_VIEWS];
  protected readonly measures = [...COLOUR_BY];
  protected readonly colourBy = signal<ColourBy>('territory');
  protected readonly lasso = signal(false);
  protected readonly mostRows = 200;
  /** The codes of the ground that is chosen. */
  readonly chosen = model<ReadonlySet<string>>(new Set());

  /** At first the part of the world where most leads are. */
  protected readonly view = linkedSignal(() => viewWithMost(this.counts(), this.shapes() ?? []));

  protected readonly picture = computed(() =>
    mapPicture(this.shapes() ?? [], {
      ...{ territories: this.drawing.list(), coverage: this.drawing.coverage(), before: this.drawing.inForce() },
      ...{ counts: this.counts(), loads: this.loads.shares(), colourBy: this.colourBy() },
    }),
  );
  /** Ground that no map has: postal codes, own regions, and regions of other countries, by country. */
  protected readonly beyond = computed(() => groundsBeyond(this.drawing.list(), this.shapes() ?? []));
  /** The first of it, in words. */
  protected readonly beyondRows = computed(() => {
    const { ownRegions } = this.words.places();
    return this.beyond()
      .slice(0, this.mostRows)
      .map(({ country, ground, territory }) => ({
        ...{ country: countryName(country), words: groundWords(ground, ownRegions) },
        whose: this.drawing.nameOf(territory),
      }));
  });
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

  /** The value of the list, which is empty again at once after something was chosen. */
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
