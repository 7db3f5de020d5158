import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import {
  addTerritory,
  type AddressFields,
  coloursOf,
  countryName,
  findingWords,
  type Fix,
  fixOf,
  type GroundCount,
  groundsOf,
  groundWords,
  openGroundIn,
  overlapsIn,
  type OwnRegion,
  regionLabel,
  type Territory,
  territoryTree,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { CountsService } from '../charter/counts.service';
import { freshKey } from '../charter/fresh-key';
import { DraftNote } from '../frame/draft-note';
import { ImpactService } from '../impact/impact.service';
import { standing } from '../impact/shifts';
import { WordingService } from '../wording/wording.service';
import { GroundPane } from './map/ground-pane';
import { INKS } from './map/map-colours';
import { TerritoryDrawing } from './territory-drawing';
import { TerritoryEditor } from './territory-editor';
import { Redrawn } from '../enact/redrawn';
import { TerritoryFiles } from './territory-files';
import { WhoCovers } from './who-covers';
import { WhoseAddress } from './whose-address';

/** A territory in the tree. */
interface Row {
  readonly key: string;
  readonly name: string;
  readonly depth: number;
  readonly covers: string;
  readonly leads: number;
  /** How many leads the draft brings it; 0 until they are counted. */
  readonly change: number;
  readonly changed: boolean;
  readonly ink: string;
  readonly team: string;
  readonly territory: Territory;
}

const NO_COUNTS: readonly GroundCount[] = [];

/** Of what a territory covers so much is named in its row. */
const NAMED = 8;

/** Territories, drawn from both sides: what each covers, and who covers a country or region. */
@Component({
  selector: 'rv-territories',
  imports: [
    FormsModule,
    RouterLink,
    SelectModule,
    DraftNote,
    GroundPane,
    Redrawn,
    TerritoryFiles,
    TerritoryEditor,
    Waiting,
    WhoCovers,
    WhoseAddress,
  ],
  templateUrl: './territories.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TerritoriesPage {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly impacts = inject(ImpactService);
  private readonly figures = inject(CountsService);
  private readonly counts = toSignal(asLoaded(this.figures.rules()), { initialValue: LOADING });
  /** The territory whose editor is open, by key. */
  protected readonly editing = signal<string | null>(null);
  protected readonly fields = computed(() => this.charters.shown()?.territories ?? null);
  private readonly drawing = inject(TerritoryDrawing);

  protected readonly territories = computed((): Row[] => {
    const list = this.drawing.list();
    const { ownRegions } = this.words.places();
    const leads = valueOf(this.counts())?.territories ?? {};
    const facet = this.charters.draft() ? this.impacts.impact()?.facets.territory : undefined;
    const changeOf = (key: string): number => {
      const counted = facet && standing(facet, key);
      return counted ? counted.after - counted.before : 0;
    };
    const inks = coloursOf(list);
    const { names } = this.words.wording();
    const before = new Map((this.charters.inForce()?.charter.territories.list ?? []).map((one) => [one.key, one]));
    return territoryTree(list).map(({ territory, depth }) => ({
      ...{ key: territory.key, name: territory.name, depth, territory },
      covers: coversWords(territory, ownRegions),
      leads: leads[territory.key] ?? 0,
      change: changeOf(territory.key),
      ink: INKS[inks.get(territory.key) ?? 'slate'],
      team: territory.team === null ? '' : names.team(territory.team),
      changed: JSON.stringify(before.get(territory.key)) !== JSON.stringify(territory),
    }));
  });

  private readonly grounds = toSignal(asLoaded(this.figures.grounds()), { initialValue: LOADING });
  protected readonly chosen = signal<ReadonlySet<string>>(new Set());
  protected readonly groundCounts = computed(() => valueOf(this.grounds()) ?? NO_COUNTS);
  /** Ground with leads that no territory covers, as it is drawn now. */
  protected readonly openGround = computed(() => {
    const { ownRegions } = this.words.places();
    return openGroundIn(this.groundCounts(), this.drawing.coverage()).map(({ code, leads }) => ({
      ...{ code, leads },
      name: code.includes('-') ? regionLabel(code, ownRegions) : countryName(code),
    }));
  });

  protected readonly overlaps = computed(() => {
    const charter = this.charters.shown();
    const wording = this.charters.wording();
    return charter === null
      ? []
      : overlapsIn(charter, this.drawing.coverage()).map((finding) => ({
          words: findingWords(finding, wording),
          fix: fixOf(finding, charter, wording),
        }));
  });

  protected readonly fieldName = computed(() => this.words.catalogue().get(this.fields()?.field ?? '')?.name ?? '');
  protected readonly regionFields = computed(() => this.fieldsOfType('region'));
  protected readonly postalFields = computed(() => this.fieldsOfType('postal-code'));

  private fieldsOfType(type: 'region' | 'postal-code'): { readonly key: string | null; readonly name: string }[] {
    const own = this.words.fieldsOf('lead').filter((field) => field.type === type);
    return [{ key: null, name: 'no field' }, ...own.map(({ key, name }) => ({ key, name }))];
  }

  protected setField(part: Partial<AddressFields>): void {
    this.charters.change((charter) => ({ ...charter, territories: { ...charter.territories, ...part } }));
  }

  protected mend({ fix }: { readonly fix: Fix | null }): void {
    if (fix !== null) this.charters.change((charter) => fix.apply(charter));
  }

  protected choose(code: string): void {
    this.chosen.update((before) => new Set([...before, code]));
  }

  protected add(): void {
    const key = freshKey(
      'territory',
      this.drawing.list().map((one) => one.key),
    );
    this.charters.change((charter) => addTerritory(charter, key, 'New territory'));
    this.editing.set(key);
  }
}

function coversWords(territory: Territory, ownRegions: readonly OwnRegion[]): string {
  const grounds = groundsOf(territory);
  if (grounds.length === 0) return 'assigned by hand';
  const named = grounds
    .slice(0, NAMED)
    .map((ground) => groundWords(ground, ownRegions))
    .join(', ');
  return grounds.length > NAMED ? `${named} and ${grounds.length - NAMED} more` : named;
}
