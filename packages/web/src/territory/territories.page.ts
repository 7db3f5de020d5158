import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { RouterLink } from '@angular/router';
import {
  addTerritory,
  type AddressFields,
  countryName,
  findingWords,
  type Fix,
  fixOf,
  groundsOf,
  groundWords,
  overlapsIn,
  type OwnRegion,
  type Territory,
} from '@relvik/core';
import { SelectModule } from 'primeng/select';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { freshKey } from '../charter/fresh-key';
import { DraftNote } from '../frame/draft-note';
import { WordingService } from '../wording/wording.service';
import { TerritoryEditor } from './territory-editor';
import { WhoCovers } from './who-covers';
import { WhoseAddress } from './whose-address';

/** A territory in the tree. */
interface Row {
  readonly key: string;
  readonly name: string;
  readonly depth: number;
  readonly covers: string;
  readonly leads: number;
  readonly changed: boolean;
  readonly territory: Territory;
}

/** Of what a territory covers so much is named in its row. */
const NAMED = 8;

/** Territories, drawn from both sides: what each covers, and who covers a country or region. */
@Component({
  selector: 'rv-territories',
  imports: [FormsModule, RouterLink, SelectModule, DraftNote, TerritoryEditor, Waiting, WhoCovers, WhoseAddress],
  templateUrl: './territories.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TerritoriesPage {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly counts = toSignal(asLoaded(this.charters.counts()), { initialValue: LOADING });
  /** The territory whose editor is open, by key. */
  protected readonly editing = signal<string | null>(null);
  protected readonly fields = computed(() => this.charters.shown()?.territories ?? null);
  private readonly list = computed(() => this.fields()?.list ?? []);

  protected readonly territories = computed((): Row[] => {
    const list = this.list();
    const { ownRegions } = this.words.places();
    const leads = valueOf(this.counts())?.territories ?? {};
    const before = new Map((this.charters.inForce()?.charter.territories.list ?? []).map((one) => [one.key, one]));
    const rowsIn = (key: string | null, depth: number): Row[] =>
      list
        .filter(({ parent }) => parent === key)
        .flatMap((territory) => [
          {
            ...{
              key: territory.key,
              name: territory.name,
              depth,
              territory,
              covers: coversWords(territory, ownRegions),
            },
            leads: leads[territory.key] ?? 0,
            changed: JSON.stringify(before.get(territory.key)) !== JSON.stringify(territory),
          },
          ...rowsIn(territory.key, depth + 1),
        ]);
    return rowsIn(null, 0);
  });

  protected readonly openGround = computed(() =>
    (valueOf(this.counts())?.openGround ?? []).map((one) => ({ ...one, name: countryName(one.country) })),
  );

  protected readonly overlaps = computed(() => {
    const charter = this.charters.shown();
    const wording = this.charters.wording();
    return charter === null
      ? []
      : overlapsIn(charter).map((finding) => ({
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

  protected add(): void {
    const key = freshKey(
      'territory',
      this.list().map((one) => one.key),
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
