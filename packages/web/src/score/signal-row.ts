import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { type RuleTally, type Signal, signalWords, signed } from '@relvik/core';
import { WordingService } from '../wording/wording.service';

/** One signal in a table: what it is given for, whom it is given to, and its points, which are typed in place. */
@Component({
  selector: 'tr[rv-signal-row]',
  imports: [DecimalPipe],
  templateUrl: './signal-row.html',
  host: { '[class.in-draft-row]': 'isChanged()', '[class.off]': '!signal().on' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignalRow {
  private readonly words = inject(WordingService);
  readonly signal = input.required<Signal>();
  /** The same in force; null for one that the draft adds. */
  readonly before = input.required<Signal | null>();
  readonly tally = input.required<RuleTally['signals'][string] | null>();
  /** How many leads there are in all. */
  readonly size = input.required<number>();
  readonly editable = input.required<boolean>();
  readonly isOpen = input.required<boolean>();
  readonly changed = output<Signal>();
  readonly opened = output();

  protected readonly inWords = computed(() => signalWords(this.signal(), this.words.wording()));
  protected readonly isChanged = computed(() => JSON.stringify(this.before()) !== JSON.stringify(this.signal()));
  protected readonly pointsBefore = computed(() => {
    const before = this.before();
    return before !== null && before.points !== this.signal().points ? signed(before.points) : null;
  });
  protected readonly points = computed(() => signed(this.signal().points));
  protected readonly share = computed(() => {
    const [tally, size] = [this.tally(), this.size()];
    return tally === null || size === 0 ? 0 : (100 * tally.records) / size;
  });
  protected readonly shareTitle = computed(() => {
    const tally = this.tally();
    const axis = this.signal().axis === 'fit' ? 'Fit' : 'Engagement';
    return tally === null ? '' : `${Math.round(100 * tally.share)}% of all points of ${axis}`;
  });

  protected setPoints(typed: string): void {
    const points = Number(typed);
    if (typed.trim() !== '' && Number.isFinite(points) && points !== this.signal().points)
      this.changed.emit({ ...this.signal(), points });
  }

  /** A field left empty or with what is no number shows again what counts. */
  protected settle(field: HTMLInputElement): void {
    if (field.value.trim() === '' || !Number.isFinite(Number(field.value))) field.value = String(this.signal().points);
  }

  protected turn(): void {
    this.changed.emit({ ...this.signal(), on: !this.signal().on });
  }
}
