import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  claimAround,
  COUNTRY_LIST,
  countryCode,
  countryOfRegion,
  type Ground,
  giveGround,
  groundWords,
  REGION_LIST,
  spellingKey,
  type TerritoryKey,
} from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../charter/charter.service';
import { TerritoryDrawing, type TerritoryOption } from './territory-drawing';
import { WordingService } from '../wording/wording.service';

/** As many are shown. */
const FEW = 18;

/** The other side: who covers a country or region, and whom it is given to. */
@Component({
  selector: 'rv-who-covers',
  imports: [FormsModule, InputTextModule, SelectModule],
  template: `
    <h2>Who covers a country or region</h2>
    <input
      pInputText
      type="search"
      aria-label="Find a country or region"
      placeholder="Find a country or region"
      [ngModel]="find()"
      (ngModelChange)="find.set($event)"
    />
    <table class="list">
      <thead>
        <tr>
          <th>Ground</th>
          <th>Code</th>
          <th>Territory</th>
        </tr>
      </thead>
      <tbody>
        @for (one of shown(); track one.code) {
          <tr>
            <td>{{ one.words }}</td>
            <td class="code nowrap">{{ one.code }}</td>
            <td>
              @if (charters.draft()) {
                <p-select
                  [ariaLabel]="'Territory of ' + one.words"
                  [options]="one.options"
                  optionLabel="name"
                  optionValue="key"
                  [filter]="one.options.length > 12"
                  [ngModel]="one.own"
                  (ngModelChange)="give(one.ground, $event)"
                />
              }
              @if (!charters.draft()) {
                <span [class.quiet]="one.own === null">{{ one.by }}</span>
              }
              @if (one.also) {
                <span [class.wrong]="one.several" [class.quiet]="!one.several">also {{ one.also }}</span>
              }
            </td>
          </tr>
        } @empty {
          <tr>
            <td colspan="3" class="quiet">No country or region matches.</td>
          </tr>
        }
      </tbody>
    </table>
    @if (more() > 0) {
      <p class="quiet">and {{ more() }} more: type to find one</p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class WhoCovers {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  protected readonly find = signal('');
  private readonly drawing = inject(TerritoryDrawing);
  /** The territories after what it means to choose none; made once for all rows of which that is the same. */
  private readonly optionsAfter = computed(() => {
    const options = this.drawing.options();
    const made = new Map<string, TerritoryOption[]>();
    return (nobody: string): TerritoryOption[] => {
      const known = made.get(nobody) ?? [{ key: null, name: nobody }, ...options];
      made.set(nobody, known);
      return known;
    };
  });

  private readonly found = computed((): Ground[] => {
    const find = spellingKey(this.find());
    const matches = (code: string, name: string): boolean =>
      spellingKey(name).includes(find) || spellingKey(code) === find;
    const { countries, regions } = this.drawing.coverage();
    const someCountries = COUNTRY_LIST.filter(({ code, name }) => matches(code, name)).map(({ code }) => code);
    // Regions are many: without a search only those with a territory of their own, and with a country all of its regions.
    const within = countryCode(this.find(), this.words.countrySpellings());
    const { ownRegions } = this.words.places();
    const own = ownRegions.map((region) => ({ ...region, around: null }));
    const someRegions = [...REGION_LIST, ...own].filter(({ code, name, around }) =>
      find === ''
        ? regions.has(code)
        : matches(code, name) || (countryOfRegion(code) === within && (around === null || regions.has(code))),
    );
    const found = [
      ...someCountries.map((country): Ground => ({ kind: 'country', country })),
      ...someRegions.map(({ code }): Ground => ({ kind: 'region', region: code })),
    ];
    const isOpen = (ground: Ground): number => Number(ground.kind === 'country' && !countries.has(ground.country));
    return find === '' ? found.sort((a, b) => isOpen(a) - isOpen(b)) : found;
  });
  protected readonly shown = computed(() =>
    this.found()
      .slice(0, FEW)
      .map((ground) => this.row(ground)),
  );
  protected readonly more = computed(() => this.found().length - this.shown().length);

  private row(ground: Ground) {
    const coverage = this.drawing.coverage();
    const code = ground.kind === 'region' ? ground.region : ground.kind === 'country' ? ground.country : '';
    const claim = coverage.regions.get(code) ?? coverage.countries.get(code);
    const around = ground.kind === 'region' ? claimAround(coverage, code) : null;
    const nameOf = (key: string | undefined): string => this.drawing.nameOf(key);
    const [counts, ...others] = claim?.keys ?? [];
    const nobody = around === null ? 'open ground' : `with ${nameOf(around.keys[0])}`;
    return {
      ...{
        code,
        ground,
        words: groundWords(ground, this.words.places().ownRegions),
        own: counts ?? null,
        several: (claim?.equal ?? 0) > 1,
      },
      by: counts === undefined ? nobody : nameOf(counts),
      also: others.map(nameOf).join(', '),
      options: this.optionsAfter()(nobody),
    };
  }

  protected give(ground: Ground, key: TerritoryKey | null): void {
    this.charters.change((charter) => giveGround(charter, ground, key));
  }
}
