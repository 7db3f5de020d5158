import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  choose,
  countryCode,
  leadsToWords,
  type Names,
  placeWords,
  readValue,
  type Route,
  rulesAskingForTerritory,
  type TerritoryKey,
  territoryOf,
  territoryWords,
  type Value,
  type World,
} from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { CharterService } from '../charter/charter.service';
import { WorldService } from '../people/world.service';
import { TerritoryDrawing } from './territory-drawing';
import { WordingService } from '../wording/wording.service';

/** Countries, regions and codes do not depend on the day on which they were entered. */
const NO_DAY = '2000-01-01';

/**
 * "Whose is this address?": shows the territory of a typed address, the part that tells it, and the rules for that territory with
 * where they lead: of a team, whose turn it is.
 */
@Component({
  selector: 'rv-whose-address',
  imports: [FormsModule, InputTextModule],
  template: `
    <h2>Whose is this address?</h2>
    <div class="joint">
      @for (part of parts; track part.key) {
        <input
          pInputText
          [attr.aria-label]="part.label"
          [placeholder]="part.label"
          [ngModel]="typed()[part.key]"
          (ngModelChange)="type(part.key, $event)"
        />
      }
    </div>
    @if (answer(); as found) {
      <p role="status">
        <b>{{ found.words }}</b>
        @if (found.rules) {
          <span class="quiet">asked for by {{ found.rules }}</span>
        }
      </p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WhoseAddress {
  private readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  protected readonly parts = [
    { key: 'country', label: 'Country' },
    { key: 'region', label: 'Region' },
    { key: 'postalCode', label: 'Postal code' },
  ] as const;
  protected readonly typed = signal({ country: '', region: '', postalCode: '' });
  private readonly drawing = inject(TerritoryDrawing);
  private readonly worlds = inject(WorldService);
  /** Null until an address is typed. */
  private readonly world = signal<World | null>(null);
  private asked = false;

  protected readonly answer = computed(() => {
    const charter = this.charters.shown();
    const { country, region, postalCode } = this.typed();
    if (charter === null || `${country}${region}${postalCode}`.trim() === '') return null;
    const { ownRegions, spellings } = this.words.places();
    const countrySpellings = this.words.countrySpellings();
    const code = countryCode(country, countrySpellings) ?? null;
    const own = { region: { ownRegions, spellings }, country: { spellings: countrySpellings } };
    const read = (type: 'country' | 'region' | 'postal-code', written: string): Value => {
      const known = type === 'postal-code' ? {} : own[type];
      return readValue({ key: type, name: type, type, options: [], retired: false, ...known }, written, NO_DAY, code);
    };
    const found = territoryOf(this.drawing.coverage(), null, {
      country: read('country', country),
      region: read('region', region),
      postalCode: read('postal-code', postalCode),
    });
    const key: TerritoryKey | null = 'territory' in found ? found.territory : null;
    const { names } = this.charters.wording();
    const routes = new Map<string, Route>(
      charter.streams.flatMap((stream) => stream.routes.map((one) => [one.key, one])),
    );
    const world = this.world();
    return {
      words: territoryWords(found, names),
      rules:
        key === null
          ? ''
          : rulesAskingForTerritory(charter, key)
              .map(({ kind, key: rule, name }) => {
                const route = kind === 'route' ? routes.get(rule) : undefined;
                return `${kind} ${name}${route === undefined ? '' : ` → ${takerWords(route, world, names)}`}`;
              })
              .join(', '),
    };
  });

  protected type(part: 'country' | 'region' | 'postalCode', written: string): void {
    this.typed.update((typed) => ({ ...typed, [part]: written }));
    if (this.asked) return;
    this.asked = true;
    this.worlds.read().subscribe({
      next: (world) => {
        this.world.set(world);
      },
      // The answer is told without the next person; it is asked for again with what is typed next.
      error: () => {
        this.asked = false;
      },
    });
  }
}

/** Where a route leads, and who would get the next lead there. */
function takerWords(route: Route, world: World | null, names: Names): string {
  const leads = leadsToWords(route, names);
  const { kind } = route.to;
  // With skills, the choice depends on the lead.
  if (world === null || kind === 'queue' || kind === 'nobody' || (route.skills ?? []).length > 0) return leads;
  const { place } = choose(route, { record: '', at: Date.now(), skills: [] }, world, world.rota);
  if (place?.kind !== 'owner') return `${leads}: nobody free now`;
  return kind === 'rep' ? leads : `${leads}: ${placeWords(place, names)} next`;
}
