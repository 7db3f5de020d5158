import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { changesBetween, claimOnGround, groundsOf, type Problem, readCharter, type Territory } from '@relvik/core';
import { groundText, readCsv, territoriesFromTable, territoryTable, writeCsv } from '@relvik/formats';
import { ButtonModule } from 'primeng/button';
import { firstValueFrom } from 'rxjs';
import { CharterService } from '../charter/charter.service';
import { chosenFile, saveFile } from '../ui/save-file';
import { WordingService } from '../wording/wording.service';
import { TerritoryDrawing } from './territory-drawing';
import { territoriesAsGeoJson } from './map/territories-geojson';
import { WorldShapes } from './map/world-shapes.service';

/** Territories that were read from a file, with what they would change in the draft. */
interface ReadFile {
  readonly territories: readonly Territory[];
  readonly changes: readonly string[];
}

/** Territories in and out as files: CSV with one line a ground, and GeoJSON of what they cover. */
@Component({
  selector: 'rv-territory-files',
  imports: [ButtonModule],
  template: `
    <div class="joint">
      <button type="button" class="link" (click)="exportCsv()">Export CSV</button>
      <button type="button" class="link" (click)="exportGeoJson()">Export GeoJSON</button>
      @if (charters.draft()) {
        <label class="file"
          >Import CSV
          <input
            #chosen
            type="file"
            accept=".csv,text/csv"
            aria-label="CSV file of territories"
            (change)="choose(chosen)"
        /></label>
      }
    </div>
    @if (problems().length > 0) {
      <div class="problem" role="alert">
        <strong>The file can’t be taken in</strong>
        <ul>
          @for (one of problems(); track $index) {
            <li>{{ one }}</li>
          }
        </ul>
      </div>
    }
    @if (file(); as read) {
      <div class="editor" role="status">
        @if (read.changes.length === 0) {
          <p>It is what the draft has already.</p>
        } @else {
          <p>
            <b>{{ read.territories.length }} territories</b> take the place of those of the draft. What changes:
          </p>
          <ul>
            @for (one of read.changes.slice(0, 30); track $index) {
              <li>{{ one }}</li>
            }
          </ul>
          @if (read.changes.length > 30) {
            <p class="quiet">and {{ read.changes.length - 30 }} more</p>
          }
        }
        <div class="joint">
          <button pButton type="button" [disabled]="read.changes.length === 0" (click)="apply(read)">
            Take them into the draft
          </button>
          <button type="button" class="link" (click)="file.set(null)">Cancel</button>
        </div>
      </div>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TerritoryFiles {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly shapes = inject(WorldShapes);
  protected readonly problems = signal<readonly string[]>([]);
  protected readonly file = signal<ReadFile | null>(null);
  private readonly drawing = inject(TerritoryDrawing);

  protected exportCsv(): void {
    saveFile('territories.csv', writeCsv(territoryTable(this.drawing.list())), 'text/csv');
  }

  protected async exportGeoJson(): Promise<void> {
    const world = await firstValueFrom(this.shapes.world);
    const coverage = this.drawing.coverage();
    const collection = territoriesAsGeoJson(
      world,
      this.drawing.list().map((territory) => ({
        ...{ key: territory.key, name: territory.name, code: territory.code },
        covers: groundsOf(territory).map(groundText),
      })),
      (code) => claimOnGround(coverage, code)?.keys[0] ?? null,
    );
    saveFile('territories.geojson', JSON.stringify(collection), 'application/geo+json');
  }

  protected async choose(input: HTMLInputElement): Promise<void> {
    const text = await chosenFile(input);
    const draft = this.charters.draft()?.charter;
    if (text === null || draft === undefined) return;
    this.file.set(null);
    const rowWords = ({ row, message }: { readonly row: number; readonly message: string }): string =>
      row === 0 ? message : `Row ${row}: ${message}`;
    const csv = readCsv(text);
    const read = csv.ok ? territoriesFromTable(csv.table, this.words.places()) : csv;
    if (!read.ok) {
      this.problems.set(read.problems.map(rowWords));
      return;
    }
    const after = { ...draft, territories: { ...draft.territories, list: read.territories } };
    const checked = readCharter(JSON.parse(JSON.stringify(after)) as unknown);
    this.problems.set(checked.ok ? [] : checked.problems.map(problemWords(read.territories)));
    if (!checked.ok) return;
    const changes = changesBetween(draft, checked.charter, this.words.wordingOf(checked.charter));
    this.file.set({
      territories: read.territories,
      changes: changes.map(({ what, from, to }) => `${what}: ${from === null ? '' : `${from} → `}${to}`),
    });
  }

  protected apply({ territories }: ReadFile): void {
    this.charters.change((charter) => ({ ...charter, territories: { ...charter.territories, list: territories } }));
    this.file.set(null);
  }
}

/** A problem by the name of its territory. */
function problemWords(territories: readonly Territory[]): (problem: Problem) => string {
  return ({ path, message }) => {
    const [, place = '', member = ''] = /^\/territories\/list\/(\d+)\/?([^/]*)/.exec(path) ?? [];
    const name = territories[Number(place)]?.name;
    return name === undefined ? `${path} ${message}` : `${name}: ${member} ${message}`;
  };
}
