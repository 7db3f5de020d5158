import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import {
  type AddressFields,
  countryName,
  findingWords,
  type Fix,
  fixOf,
  type GroundCount,
  openGroundIn,
  overlapsIn,
  regionLabel,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { CountsService } from '../charter/counts.service';
import { DraftNote } from '../frame/draft-note';
import { WordingService } from '../wording/wording.service';
import { GroundPane } from './map/ground-pane';
import { TerritoryDrawing } from './territory-drawing';
import { TerritoryTable } from './territory-table';
import { Redrawn } from '../enact/redrawn';
import { TerritoryFiles } from './territory-files';
import { WhoCovers } from './who-covers';
import { WhoseAddress } from './whose-address';

const NO_COUNTS: readonly GroundCount[] = [];

/** The number of overlaps shown at a time. */
const TOLD = 4;

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
    TerritoryTable,
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
  private readonly figures = inject(CountsService);
  protected readonly fields = computed(() => this.charters.shown()?.territories ?? null);
  private readonly drawing = inject(TerritoryDrawing);

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

  private readonly allOverlaps = computed(() => {
    const charter = this.charters.shown();
    return charter === null ? [] : overlapsIn(charter, this.drawing.coverage());
  });
  protected readonly overlaps = computed(() => {
    const charter = this.charters.shown();
    const wording = this.charters.wording();
    return charter === null
      ? []
      : this.allOverlaps()
          .slice(0, TOLD)
          .map((finding) => ({
            words: findingWords(finding, wording),
            fix: fixOf(finding, charter, wording),
          }));
  });
  protected readonly moreOverlaps = computed(() => Math.max(0, this.allOverlaps().length - TOLD));

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
}
