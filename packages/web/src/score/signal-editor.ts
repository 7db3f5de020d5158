import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { FormsModule } from '@angular/forms';
import type { ActivitySignal, Condition, Fade, PropertyTest, Signal, SignalGroup } from '@relvik/core';
import { InputTextModule } from 'primeng/inputtext';
import { SelectModule } from 'primeng/select';
import { ConditionEditor } from '../condition/condition-editor';
import { WordingService } from '../wording/wording.service';
import { PropertyTests } from '../condition/property-tests';

const FADES = [
  { value: 'none', label: 'does not fade' },
  { value: 'half-life', label: 'halves every' },
  { value: 'end', label: 'fades to nothing in' },
];
const TIMES = [
  { value: 'each', label: 'each time' },
  { value: 'first', label: 'the first time only' },
];
const KINDS = [
  { value: 'attribute', label: 'a condition' },
  { value: 'activity', label: 'what they do' },
  { value: 'silence', label: 'silence' },
];

/** A whole number from a field, or null where it is empty. */
function wholeOr(typed: string): number | null {
  const number = Number(typed);
  return typed.trim() === '' || !Number.isFinite(number) ? null : Math.round(number);
}

/** One signal, opened in place: its name, and when it gives its points. */
@Component({
  selector: 'rv-signal-editor',
  imports: [FormsModule, InputTextModule, SelectModule, ConditionEditor, PropertyTests],
  templateUrl: './signal-editor.html',
  host: { '(keydown.escape)': 'closed.emit()' },
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class SignalEditor {
  private readonly words = inject(WordingService);
  readonly signal = input.required<Signal>();
  readonly groups = input.required<readonly SignalGroup[]>();
  readonly changed = output<Signal>();
  /** Whether it stands first, or last, among the signals of its axis. */
  readonly first = input(false);
  readonly last = input(false);
  readonly copied = output();
  readonly shifted = output<1 | -1>();
  readonly removed = output();
  readonly closed = output();
  protected readonly fades = FADES;
  protected readonly kinds = KINDS;
  protected readonly activities = computed(() =>
    this.words.kinds().map(({ key, name }) => ({ value: key, label: name })),
  );
  protected readonly times = TIMES;
  protected readonly groupOptions = computed(() => [
    { value: null, label: 'in no group' },
    ...this.groups()
      .filter((group) => group.axis === this.signal().axis)
      .map(({ key, name, cap }) => ({ value: key, label: `in ${name}, held at ${cap}` })),
  ]);

  protected rename(name: string): void {
    if (name.trim() !== '') this.changed.emit({ ...this.signal(), name: name.trim() });
  }

  protected regroup(group: string | null): void {
    this.changed.emit({ ...this.signal(), group });
  }

  protected makeKind(kind: Signal['kind']): void {
    const { key, name, axis, on, points, group } = this.signal();
    const common = { key, name, axis, on, points, group };
    switch (kind) {
      case 'attribute':
        this.changed.emit({ ...common, kind, when: { test: 'any', of: [] } });
        return;
      case 'activity':
        this.changed.emit({
          ...common,
          kind,
          activity: 'mail_opened',
          having: [],
          times: 'each',
          window: null,
          most: null,
          fade: null,
          cap: null,
        });
        return;
      case 'silence':
        this.changed.emit({ ...common, kind, every: 30, most: 3, points: points > 0 ? -points : points });
    }
  }

  protected ask(when: Condition): void {
    const signal = this.signal();
    if (signal.kind === 'attribute') this.changed.emit({ ...signal, when });
  }

  protected setActivity(activity: string): void {
    const signal = this.signal();
    if (signal.kind === 'activity') this.changed.emit({ ...signal, activity });
  }

  protected setTimes(times: ActivitySignal['times']): void {
    const signal = this.signal();
    if (signal.kind === 'activity')
      this.changed.emit({ ...signal, times, most: times === 'first' ? null : signal.most });
  }

  protected setHaving(having: readonly PropertyTest[]): void {
    const signal = this.signal();
    if (signal.kind === 'activity') this.changed.emit({ ...signal, having });
  }

  protected set(part: 'window' | 'most' | 'cap' | 'every', typed: string): void {
    const signal = this.signal();
    const value = wholeOr(typed);
    if (signal.kind === 'activity' && part !== 'every') this.changed.emit({ ...signal, [part]: value });
    else if (signal.kind === 'silence' && part === 'most') this.changed.emit({ ...signal, most: value });
    else if (signal.kind === 'silence' && part === 'every' && value !== null)
      this.changed.emit({ ...signal, every: value });
  }

  protected setFade(kind: string): void {
    const signal = this.signal();
    if (signal.kind !== 'activity') return;
    const days = signal.fade?.days ?? 30;
    this.changed.emit({ ...signal, fade: kind === 'none' ? null : { kind: kind as Fade['kind'], days } });
  }

  protected setFadeDays(typed: string): void {
    const signal = this.signal();
    const days = wholeOr(typed);
    if (signal.kind === 'activity' && signal.fade !== null && days !== null)
      this.changed.emit({ ...signal, fade: { ...signal.fade, days } });
  }
}
