import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { addBand, type Axis, BAND_COUNTS, type Band, renameBand, showBand } from '@relvik/core';
import { CharterService } from '../charter/charter.service';
import { freshKey } from '../ui/fresh-key';
import { SetChoice } from '../charter/set-choice';
import { withCut } from '../score/with-cut';
import { BandTakeOut } from './band-take-out';

/** The bands of one axis of the chosen score set; in a draft they are renamed, added and taken out here. */
@Component({
  selector: 'rv-band-list',
  imports: [BandTakeOut],
  templateUrl: './band-list.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class BandList {
  protected readonly charters = inject(CharterService);
  private readonly choice = inject(SetChoice);
  readonly axis = input.required<Axis>();
  /** The band that is asked about, by key: what is to take over. */
  protected readonly leaving = signal<string | null>(null);

  protected readonly title = computed(() => (this.axis() === 'fit' ? 'Fit' : 'Engagement'));
  protected readonly bands = computed(() => {
    const { bands, cuts } = this.choice.set()?.grid[this.axis()] ?? { bands: [], cuts: [] };
    const inForce = this.choice.inForce()?.grid[this.axis()];
    return bands.map((band, i) => {
      const before = inForce?.bands.findIndex(({ key }) => key === band.key) ?? -1;
      const name = inForce?.bands[before]?.name ?? '';
      const [cut, cutBefore] = [cuts[i - 1] ?? null, inForce?.cuts[before - 1] ?? null];
      return {
        ...band,
        range: showBand(i, cuts),
        /** Its name in force, where it has another there; empty: it is new. */
        was: name === band.name ? null : name,
        /** Where it begins, and where in force; null: it is the lowest. */
        cut,
        cutMoved: cut !== cutBefore,
        cutBefore,
        between: `${bands[i - 1]?.name} and ${band.name}`,
      };
    });
  });
  protected readonly mayLeave = computed(() => this.bands().length > BAND_COUNTS[this.axis()][0]);
  /** The band that a new one is parted from: the widest that has a whole score inside. */
  private readonly parted = computed(() => {
    const set = this.choice.set();
    if (set === null) return null;
    const { bands, cuts } = set.grid[this.axis()];
    const width = (i: number): number => (cuts[i] ?? set[this.axis()].most) - (cuts[i - 1] ?? set[this.axis()].least);
    const widest = bands.map((band, i) => ({ band, width: width(i) })).sort((a, b) => b.width - a.width)[0];
    return widest !== undefined && this.with(widest.band.key, 'new') !== null ? widest.band : null;
  });
  protected readonly mayAdd = computed(() => this.parted() !== null);

  protected rename(key: string, typed: string, field: HTMLInputElement): void {
    const name = typed.trim();
    const now = this.bands().find((band) => band.key === key)?.name ?? '';
    if (name === '' || name === now) {
      field.value = now;
      return;
    }
    this.choice.change((set) => renameBand(set, this.axis(), key, name));
  }

  /** @param at the place of the band that begins at the cut */
  protected setCut(at: number, typed: string, field: HTMLInputElement): void {
    const cut = Number(typed);
    const now = this.bands()[at]?.cut;
    if (typed.trim() === '' || !Number.isFinite(cut)) {
      field.value = String(now ?? '');
      return;
    }
    if (cut !== now) this.choice.change(withCut(this.axis(), at - 1, cut));
  }

  protected add(): void {
    const parted = this.parted();
    if (parted === null) return;
    const key = freshKey(
      'band',
      this.bands().map((band) => band.key),
    );
    this.choice.change((set) => this.with(parted.key, key, set) ?? set);
  }

  /** The set with a band more; null: there is no room. */
  private with(parted: string, key: string, set = this.choice.set()): ReturnType<typeof addBand> {
    if (set === null) return null;
    const names = new Set(this.bands().map(({ name }) => name));
    let name = 'New';
    for (let n = 2; names.has(name); n += 1) name = `New ${n}`;
    const added: Band = { key, name };
    return addBand(set, this.axis(), parted, added);
  }
}
