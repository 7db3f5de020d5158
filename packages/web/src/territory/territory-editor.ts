import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import { FormsModule } from '@angular/forms';
import {
  addGrounds,
  editTerritory,
  type Ground,
  groundsOf,
  groundWords,
  insideOf,
  readGrounds,
  rulesNamingTerritory,
  takeGround,
  takeOutTerritory,
  type Territory,
  TERRITORY_COLOURS,
} from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { SelectModule } from 'primeng/select';
import { TextareaModule } from 'primeng/textarea';
import { CharterService } from '../charter/charter.service';
import { INK_WORDS, INKS } from './map/map-colours';
import { TeamLoads } from './map/team-loads';
import { WordingService } from '../wording/wording.service';
import { sameOptions, TerritoryDrawing, type TerritoryOption } from './territory-drawing';

/** Edits a territory in the draft: its name, code and colour, the one around it, who works it, and the ground that it covers. */
@Component({
  selector: 'rv-territory-editor',
  imports: [FormsModule, ButtonModule, SelectModule, TextareaModule],
  template: `
    <div class="editor">
      <div class="joint">
        <input
          #name
          class="value-field name-field"
          aria-label="Name of the territory"
          [value]="territory().name"
          (change)="rename(name.value)"
        />
        <span>inside</span>
        <p-select
          ariaLabel="Territory around it"
          [options]="parents()"
          [filter]="parents().length > 12"
          optionLabel="name"
          optionValue="key"
          [ngModel]="territory().parent"
          (ngModelChange)="put({ parent: $event })"
        />
        <span>code</span>
        <input
          #code
          class="value-field code-field"
          aria-label="Code of the territory"
          maxlength="16"
          [value]="territory().code ?? ''"
          (change)="put({ code: code.value.trim() || null })"
        />
        <span class="ends">
          <button type="button" class="link" (click)="takeOut()">Take it out</button>
          <button type="button" class="link" (click)="closed.emit()">Done</button>
        </span>
      </div>
      <div class="joint">
        <span>worked by</span>
        <p-select
          ariaLabel="Team of the territory"
          [options]="teams()"
          optionLabel="name"
          optionValue="key"
          [ngModel]="territory().team"
          (ngModelChange)="put({ team: $event })"
        />
        <span>managed by</span>
        <p-select
          ariaLabel="Manager of the territory"
          [options]="managers()"
          optionLabel="name"
          optionValue="key"
          [filter]="managers().length > 12"
          [ngModel]="territory().manager"
          (ngModelChange)="put({ manager: $event })"
        />
        <span>drawn in</span>
        <p-select
          ariaLabel="Colour of the territory"
          [options]="colours"
          optionLabel="name"
          optionValue="key"
          [ngModel]="territory().colour"
          (ngModelChange)="put({ colour: $event })"
        >
          <ng-template #item let-one
            ><i class="swatch" [style.background]="one.ink"></i>&nbsp;{{ one.name }}</ng-template
          >
        </p-select>
      </div>
      @if (naming()) {
        <p class="wrong">{{ naming() }} ask for it: change them before the draft is enacted.</p>
      }
      <p class="chips">
        @for (one of covers(); track one.words) {
          <span class="tag">
            {{ one.words }}
            <button
              type="button"
              class="link"
              [attr.aria-label]="'Take ' + one.words + ' out'"
              (click)="take(one.ground)"
            >
              ×
            </button>
          </span>
        } @empty {
          <span class="quiet">It covers nothing: leads come to it by hand.</span>
        }
      </p>
      <form (ngSubmit)="add()">
        <textarea
          pTextarea
          name="grounds"
          rows="2"
          aria-label="Ground to add"
          placeholder="Countries, regions and postal codes, one a line or with commas: Norway, US-CA, DE 80331, DE 80*, DE 80000-81999"
          [ngModel]="text()"
          (ngModelChange)="text.set($event)"
        ></textarea>
        <div class="joint">
          <button pButton type="submit" [outlined]="true" [disabled]="found().length === 0">
            {{ found().length > 1 ? 'Add ' + found().length : 'Add' }}
          </button>
          @if (found().length > 0) {
            <span class="quiet">{{ foundWords() }}</span>
          }
          @if (unknown().length > 0) {
            <span class="wrong" role="status">not recognised: {{ unknown().join(', ') }}</span>
          }
        </div>
      </form>
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class TerritoryEditor {
  private readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  private readonly drawing = inject(TerritoryDrawing);
  readonly territory = input.required<Territory>();
  readonly closed = output();
  private readonly loads = inject(TeamLoads);
  protected readonly teams = computed(() => [
    { key: null, name: 'no team' },
    ...this.loads.teams().map(({ key, name }) => ({ key, name })),
  ]);
  protected readonly managers = computed(() => [{ key: null, name: 'nobody' }, ...this.loads.persons()]);
  protected readonly colours = [
    { key: null, name: 'the next colour', ink: 'transparent' },
    ...TERRITORY_COLOURS.map((key) => ({ key, name: INK_WORDS[key], ink: INKS[key] })),
  ];
  protected readonly text = signal('');
  private readonly wordsOf = (ground: Ground): string => groundWords(ground, this.words.places().ownRegions);

  protected readonly covers = computed(() =>
    groundsOf(this.territory()).map((ground) => ({ ground, words: this.wordsOf(ground) })),
  );
  private readonly read = computed(() => readGrounds(this.text(), this.words.places()));
  protected readonly found = computed(() => this.read().flatMap(({ ground }) => ground ?? []));
  protected readonly foundWords = computed(() => this.found().map(this.wordsOf).join(', '));
  protected readonly unknown = computed(() => this.read().flatMap(({ written, ground }) => (ground ? [] : [written])));

  /** Those that do not lie inside it. */
  protected readonly parents = computed(
    (): TerritoryOption[] => {
      const inside = new Set<string | null>(insideOf(this.drawing.list()).get(this.territory().key) ?? []);
      return [{ key: null, name: 'no other' }, ...this.drawing.options().filter(({ key }) => !inside.has(key))];
    },
    { equal: sameOptions },
  );
  protected readonly naming = computed(() => {
    const charter = this.charters.shown();
    if (charter === null) return '';
    return rulesNamingTerritory(charter, this.territory().key)
      .map(({ kind, name }) => `${kind} ${name}`)
      .join(', ');
  });

  protected put(part: Parameters<typeof editTerritory>[2]): void {
    this.charters.change((charter) => editTerritory(charter, this.territory().key, part));
  }

  protected rename(name: string): void {
    if (name.trim() !== '') this.put({ name: name.trim() });
  }

  protected add(): void {
    const found = this.found();
    if (found.length === 0) return;
    this.charters.change((charter) => addGrounds(charter, this.territory().key, found));
    // Lines that were not recognised stay, to be corrected.
    this.text.set(this.unknown().join('\n'));
  }

  protected take(ground: Ground): void {
    this.charters.change((charter) => takeGround(charter, this.territory().key, ground));
  }

  protected takeOut(): void {
    this.charters.change((charter) => takeOutTerritory(charter, this.territory().key));
    this.closed.emit();
  }
}
