import { ChangeDetectionStrategy, Component, computed, inject, input, linkedSignal, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import { type Axis, mentionsOfBand, type RuleMention, takeOutBand } from '@relvik/core';
import { ButtonModule } from 'primeng/button';
import { MultiSelectModule } from 'primeng/multiselect';
import { SelectModule } from 'primeng/select';
import { CharterService } from '../charter/charter.service';
import { SetChoice } from '../charter/set-choice';

const KINDS: Readonly<Record<RuleMention['kind'], string>> = { gate: 'gate', stream: 'stream', route: 'route' };

/** Asks what takes over from a band that is taken out of a draft: its scores, its verdicts, and the conditions that name it. */
@Component({
  selector: 'rv-band-take-out',
  imports: [ButtonModule, FormsModule, MultiSelectModule, SelectModule],
  templateUrl: './band-take-out.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BandTakeOut {
  private readonly charters = inject(CharterService);
  private readonly choice = inject(SetChoice);
  readonly axis = input.required<Axis>();
  /** The key of the band. */
  readonly band = input.required<string>();
  readonly closed = output();

  private readonly bands = computed(() => this.choice.set()?.grid[this.axis()].bands ?? []);
  private readonly at = computed(() => this.bands().findIndex(({ key }) => key === this.band()));
  protected readonly name = computed(() => this.bands()[this.at()]?.name ?? '');
  /** Those next to it. */
  protected readonly neighbours = computed(() => [this.at() - 1, this.at() + 1].flatMap((i) => this.bands()[i] ?? []));
  protected readonly others = computed(() => this.bands().filter(({ key }) => key !== this.band()));
  protected readonly mentions = computed(() => {
    const charter = this.charters.draft()?.charter;
    const set = this.choice.key();
    if (charter === undefined || set === null) return [];
    return mentionsOfBand(charter, set, this.axis(), this.band()).map(({ kind, name }) => `${KINDS[kind]} “${name}”`);
  });

  protected readonly scores = linkedSignal(() => this.neighbours()[0]?.key ?? '');
  protected readonly verdictsOf = computed(() =>
    this.bands().filter(({ key }) => key === this.band() || key === this.scores()),
  );
  protected readonly verdicts = linkedSignal(() => this.scores());
  protected readonly conditions = linkedSignal((): readonly string[] => [this.scores()]);
  protected readonly ready = computed(() => this.mentions().length === 0 || this.conditions().length > 0);

  protected takeOut(): void {
    const set = this.choice.key();
    if (set === null) return;
    const to = { scores: this.scores(), verdicts: this.verdicts(), conditions: this.conditions() };
    this.charters.change((charter) => takeOutBand(charter, set, this.axis(), this.band(), to) ?? charter);
    this.closed.emit();
  }
}
