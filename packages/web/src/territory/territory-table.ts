import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { RouterLink } from '@angular/router';
import {
  addTerritory,
  coloursOf,
  fold,
  groundsOf,
  groundWords,
  type OwnRegion,
  type Territory,
  territoryTree,
  type TreePlace,
} from '@relvik/core';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { CharterService } from '../charter/charter.service';
import { CountsService } from '../charter/counts.service';
import { freshKey } from '../ui/fresh-key';
import { ImpactService } from '../impact/impact.service';
import { standings } from '../impact/shifts';
import { WordingService } from '../wording/wording.service';
import { INKS } from './map/map-colours';
import { TerritoryDrawing } from './territory-drawing';
import { TerritoryEditor } from './territory-editor';

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

/** The number of grounds named in a territory's row. */
const NAMED = 8;
/** With more territories than this there is a search field. */
const MANY = 25;
/** The number of rows shown at a time. */
const ROWS = 100;

/** The territories as a tree, with what each covers; edited in the draft. */
@Component({
  selector: 'rv-territory-table',
  imports: [RouterLink, TerritoryEditor],
  template: `
    <h2>What each covers</h2>
    @if (places().length > many) {
      <input
        #text
        type="search"
        class="value-field"
        aria-label="Find a territory"
        placeholder="find a territory by name or code"
        [value]="typed()"
        (input)="typed.set(text.value)"
      />
    }
    <table class="list territories">
      <thead>
        <tr>
          <th>Territory</th>
          <th>Covers · worked by</th>
          <th class="number">Leads</th>
        </tr>
      </thead>
      <tbody>
        @for (one of rows(); track one.key) {
          <tr [class.in-draft-row]="one.changed">
            <td [style.padding-left.px]="4 + 16 * one.depth">
              <i class="swatch" [style.background]="one.ink"></i>
              @if (charters.draft()) {
                <button
                  type="button"
                  class="link when"
                  [attr.aria-expanded]="editing() === one.key"
                  [attr.aria-label]="'Edit ' + one.name"
                  (click)="editing.set(editing() === one.key ? null : one.key)"
                >
                  {{ one.name }}
                </button>
              } @else {
                {{ one.name }}
              }
              @if (one.territory.code; as code) {
                <span class="code quiet">{{ code }}</span>
              }
            </td>
            <td class="quiet">
              {{ one.covers }}
              @if (one.team) {
                <span> · {{ one.team }}</span>
              }
            </td>
            <td class="number">
              <a routerLink="/leads" [queryParams]="{ territory: one.key, status: 'any' }">{{ one.leads }}</a>
              @if (one.change) {
                <b class="in-draft">{{ one.change > 0 ? '+' : '' }}{{ one.change }}</b>
              }
            </td>
          </tr>
          @if (editing() === one.key && charters.draft()) {
            <tr class="editing-row">
              <td colspan="3"><rv-territory-editor [territory]="one.territory" (closed)="editing.set(null)" /></td>
            </tr>
          }
        }
        @if (found().length > rows().length) {
          <tr>
            <td colspan="3" class="quiet">and {{ found().length - rows().length }} more: type a part of the name</td>
          </tr>
        }
        @if (charters.draft()) {
          <tr>
            <td colspan="3"><button type="button" class="link" (click)="add()">+ territory</button></td>
          </tr>
        }
      </tbody>
    </table>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TerritoryTable {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly impacts = inject(ImpactService);
  private readonly drawing = inject(TerritoryDrawing);
  private readonly counts = toSignal(asLoaded(inject(CountsService).rules()), { initialValue: LOADING });
  protected readonly many = MANY;
  protected readonly typed = signal('');
  /** The territory whose editor is open, by key. */
  protected readonly editing = signal<string | null>(null);

  protected readonly places = computed(() => territoryTree(this.drawing.list()));
  /** Territories that match the search text. */
  protected readonly found = computed((): readonly TreePlace<Territory>[] => {
    const text = fold(this.typed());
    const isFound = ({ name, code }: Territory): boolean => fold(`${name} ${code ?? ''}`).includes(text);
    return text === '' ? this.places() : this.places().filter(({ territory }) => isFound(territory));
  });
  private readonly before = computed(
    () => new Map((this.charters.inForce()?.charter.territories.list ?? []).map((one) => [one.key, one])),
  );
  private readonly changes = computed(() => {
    const facet = this.charters.draft() ? this.impacts.impact()?.facets.territory : undefined;
    return facet === undefined ? null : standings(facet);
  });

  /** The first rows, and every territory that the draft changes. */
  protected readonly rows = computed((): Row[] => {
    const { ownRegions } = this.words.places();
    const leads = valueOf(this.counts())?.territories ?? {};
    const inks = coloursOf(this.drawing.list());
    const { names } = this.words.wording();
    return this.found().flatMap(({ territory, depth }, place): Row[] => {
      const { key, name, team } = territory;
      const changed = textOf(this.before().get(key)) !== textOf(territory);
      if (place >= ROWS && !changed) return [];
      const counted = this.changes()?.get(key);
      return [
        {
          ...{ key, name, depth, territory, changed },
          covers: coversWords(territory, ownRegions),
          leads: leads[key] ?? 0,
          change: counted ? counted.after - counted.before : 0,
          ink: INKS[inks.get(key) ?? 'slate'],
          team: team === null ? '' : names.team(team),
        },
      ];
    });
  });

  protected add(): void {
    const key = freshKey(
      'territory',
      this.drawing.list().map((one) => one.key),
    );
    this.charters.change((charter) => addTerritory(charter, key, 'New territory'));
    this.typed.set('');
    this.editing.set(key);
  }
}

const texts = new WeakMap<Territory, string>();

/** A territory as text, by which it is compared; kept with it, since an edit leaves most of them as they are. */
function textOf(territory: Territory | undefined): string {
  if (territory === undefined) return '';
  const known = texts.get(territory) ?? JSON.stringify(territory);
  texts.set(territory, known);
  return known;
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
