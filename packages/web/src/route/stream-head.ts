import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { People } from '@relvik/contracts';
import {
  AGAIN_WHEN,
  AGAIN_WORDS,
  type AgainWhen,
  againWords,
  conditionWords,
  type NobodyFree,
  nobodyFreeWords,
  runWords,
  type Stream,
} from '@relvik/core';
import type { Names } from '@relvik/core';
import { MultiSelectModule } from 'primeng/multiselect';
import { CharterService } from '../charter/charter.service';
import { NobodyFreeForm } from './nobody-free-form';

const WAIT: NobodyFree = { kind: 'wait' };

/** The head of a stream: when it acts, what happens when nobody is free, and which leads go through it again. */
@Component({
  selector: 'rv-stream-head',
  imports: [FormsModule, MultiSelectModule, NobodyFreeForm],
  template: `
    <h2>
      {{ stream().name }}
      @if (!stream().on) {
        <span class="quiet">off</span>
      }
      @if (drafting()) {
        <button
          type="button"
          class="link edit"
          [attr.aria-label]="'Edit stream ' + stream().name"
          (click)="edited.emit()"
        >
          Edit
        </button>
        @if (!first()) {
          <button
            type="button"
            class="link edit"
            [attr.aria-label]="'Move stream ' + stream().name + ' up'"
            (click)="moved.emit(-1)"
          >
            ↑
          </button>
        }
        @if (!last()) {
          <button
            type="button"
            class="link edit"
            [attr.aria-label]="'Move stream ' + stream().name + ' down'"
            (click)="moved.emit(1)"
          >
            ↓
          </button>
        }
      }
      <span class="quiet">
        acts on entering {{ entering() }} · nobody free:
        @if (!drafting() || people() === null) {
          {{ nobodyFreeWords() }} · leads it gave away go through it again: {{ again() }}
        }
      </span>
      @if (drafting() && people(); as all) {
        <rv-nobody-free-form
          [said]="nobodyFree()"
          [ofStream]="null"
          [people]="all"
          [label]="'When nobody is free, ' + stream().name"
          (changed)="changed.emit({ nobodyFree: $event ?? WAIT })"
        />
        <span class="quiet">leads it gave away go through it again</span>
        <p-multiselect
          [ariaLabel]="'What lets leads go through ' + stream().name + ' again'"
          [options]="occasions"
          optionLabel="label"
          optionValue="value"
          placeholder="never"
          [maxSelectedLabels]="1"
          [selectedItemsLabel]="'on {0} occasions'"
          [showToggleAll]="false"
          [ngModel]="chosen()"
          (ngModelChange)="choose($event)"
        />
      }
    </h2>
    @if (entry(); as words) {
      <p class="quiet again-note">{{ words }}</p>
    }
    @if (chosen().length > 0) {
      <p class="quiet again-note">
        A lead that this stream gave away goes on {{ again() }}, if another route matches it by then, or its owner is no
        longer among those whom its route leads to. Who got a lead by hand or with a file keeps it.
      </p>
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class StreamHead {
  private readonly charters = inject(CharterService);
  readonly stream = input.required<Stream>();
  readonly people = input.required<People | null>();
  readonly drafting = input.required<boolean>();
  readonly names = input.required<Names>();
  /** Whether it stands above all other streams, and whether below them. */
  readonly first = input.required<boolean>();
  readonly last = input.required<boolean>();
  readonly changed = output<Partial<Stream>>();
  /** It is to stand one place higher or lower. */
  readonly moved = output<-1 | 1>();
  /** Its form is to be opened or closed. */
  readonly edited = output();

  protected readonly WAIT = WAIT;
  protected readonly occasions = AGAIN_WHEN.map((value) => ({ value, label: AGAIN_WORDS[value] }));
  protected readonly entering = computed(() =>
    this.stream()
      .entering.map((stage) => this.names().stage(stage))
      .join(', '),
  );
  /** Which leads it takes, and when it runs by itself; empty: all, and never. */
  protected readonly entry = computed(() => {
    const { when, schedule, accept } = this.stream();
    const isAll = when.test === 'all' && when.of.length === 0;
    return [
      ...(isAll ? [] : [`Only leads for which ${conditionWords(when, this.charters.wording())}.`]),
      ...(schedule === undefined ? [] : [`Runs ${runWords(this.stream())}.`]),
      ...(accept === true ? ['Owners accept what it gives them, or give it back.'] : []),
    ].join(' ');
  });
  protected readonly nobodyFree = computed(() => this.stream().nobodyFree ?? WAIT);
  protected readonly nobodyFreeWords = computed(() => nobodyFreeWords(this.nobodyFree(), this.names()));
  protected readonly chosen = computed((): AgainWhen[] => [...(this.stream().again ?? [])]);
  protected readonly again = computed(() => (this.chosen().length === 0 ? 'never' : againWords(this.chosen())));

  /** In the order in which they are offered, so that the same choice is the same charter. */
  protected choose(chosen: readonly AgainWhen[]): void {
    const again = AGAIN_WHEN.filter((one) => chosen.includes(one));
    this.changed.emit({ again: again.length === 0 ? undefined : again });
  }
}
