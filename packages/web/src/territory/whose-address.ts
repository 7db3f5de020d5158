import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  countryCode,
  destinationWords,
  readValue,
  rulesAskingForTerritory,
  type TerritoryKey,
  territoryOf,
  territoryWords,
  type Value,
} from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { CharterService } from '../charter/charter.service';
import { TerritoryDrawing } from './territory-drawing';
import { WordingService } from '../wording/wording.service';

/** Countries, regions and codes do not depend on the day on which they were entered. */
const NO_DAY = '2000-01-01';

/** "Whose is this address?": shows the territory of a typed address, the part that tells it, and the rules for that territory with where they lead. */
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
    const routes = new Map(
      charter.streams.flatMap((stream) => stream.routes.map((one) => [one.key as string, one.to])),
    );
    return {
      words: territoryWords(found, names),
      rules:
        key === null
          ? ''
          : rulesAskingForTerritory(charter, key)
              .map(({ kind, key: rule, name }) => {
                const to = kind === 'route' ? routes.get(rule) : undefined;
                return `${kind} ${name}${to === undefined ? '' : ` → ${destinationWords(to, names)}`}`;
              })
              .join(', '),
    };
  });

  protected type(part: 'country' | 'region' | 'postalCode', written: string): void {
    this.typed.update((typed) => ({ ...typed, [part]: written }));
  }
}
