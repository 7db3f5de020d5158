import { DecimalPipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { AXES, type Axis, type Signal } from '@relvik/core';
import { valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { freshKey } from '../ui/fresh-key';
import { DraftNote } from '../frame/draft-note';
import { ImpactService } from '../impact/impact.service';
import { chosenBars } from './chosen-bars';
import { DistributionChart } from './distribution-chart';
import { PointsTable } from './points-table';
import { SignalEditor } from './signal-editor';
import { SetBar } from './set-bar';
import { SetChoice } from '../charter/set-choice';
import { SignalRow } from './signal-row';
import { withCut } from './with-cut';
import { headingOf, pluralOf } from '../wording/kind-words';

/** Score: every signal with its points and what it comes to, per axis; all of it is changed in the draft, in place. */
@Component({
  selector: 'rv-score',
  imports: [DecimalPipe, DistributionChart, DraftNote, PointsTable, SetBar, SignalEditor, SignalRow, Waiting],
  templateUrl: './score.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScorePage {
  protected readonly charters = inject(CharterService);
  protected readonly impacts = inject(ImpactService);
  protected readonly axes = AXES;
  protected readonly others = computed(() => (this.impacts.otherKind() === null ? null : this.impacts.others()));
  /** The kind of record of the chosen set. */
  protected readonly plural = computed(() => pluralOf(this.impacts.otherKind() ?? 'lead'));
  protected readonly heading = computed(() => headingOf(this.impacts.otherKind() ?? 'lead'));
  private readonly choice = inject(SetChoice);
  protected readonly set = this.choice.set;
  protected readonly setInForce = this.choice.inForce;
  protected readonly editing = signal<string | null>(null);
  /** Whether points for the values of a field are typed as one table. */
  protected readonly tabling = signal(false);

  protected readonly beforeByKey = computed(
    () => new Map((this.setInForce()?.signals ?? []).map((signal) => [signal.key, signal])),
  );
  protected readonly tally = computed(() => this.impacts.tally()?.signals ?? {});
  /** How many leads the set admits: the shares are of them. */
  protected readonly size = computed(
    () => this.impacts.tally()?.sets[this.choice.key() ?? '']?.admits ?? valueOf(this.impacts.state())?.size ?? 0,
  );
  protected readonly groups = computed(() =>
    AXES.map((axis) => ({
      axis,
      title: axis === 'fit' ? 'Fit' : 'Engagement',
      about: axis === 'fit' ? 'what they are' : 'what they do',
      signals: (this.set()?.signals ?? []).filter((signal) => signal.axis === axis),
    })),
  );
  /** Signals that are other ones than in force; unchanged parts are the same text. */
  protected readonly changed = computed(() => {
    const before = this.beforeByKey();
    return (this.set()?.signals ?? []).filter(
      (signal) => JSON.stringify(before.get(signal.key)) !== JSON.stringify(signal),
    ).length;
  });

  protected readonly bars = chosenBars();

  private signalKeys(): string[] {
    return this.choice.sets().flatMap(({ signals }) => signals.map(({ key }) => key));
  }

  protected replace(key: string, signal: Signal): void {
    this.choice.change((set) => ({ ...set, signals: set.signals.map((one) => (one.key === key ? signal : one)) }));
  }

  protected add(axis: Axis): void {
    const key = freshKey('signal', this.signalKeys());
    const common = { key, name: 'New signal', axis, on: true, points: 5, group: null };
    const fresh: Signal =
      axis === 'fit'
        ? { ...common, kind: 'attribute', when: { test: 'any', of: [] } }
        : {
            ...common,
            kind: 'activity',
            activity: 'mail_opened',
            having: [],
            times: 'each',
            window: null,
            most: null,
            fade: { kind: 'half-life', days: 30 },
            cap: null,
          };
    this.choice.change((set) => ({ ...set, signals: [...set.signals, fresh] }));
    this.editing.set(key);
  }

  /** A copy stands below what it was copied from, and is opened. */
  protected copy(signal: Signal): void {
    const twin: Signal = { ...signal, key: freshKey('signal', this.signalKeys()), name: `${signal.name}, copy` };
    this.choice.change((set) => ({
      ...set,
      signals: set.signals.flatMap((one) => (one.key === signal.key ? [one, twin] : [one])),
    }));
    this.editing.set(twin.key);
  }

  /** Changes places with the next, or the one before, of the same axis. */
  protected shift({ key, axis }: Signal, by: 1 | -1): void {
    this.choice.change((set) => {
      const own = set.signals.flatMap((one, i) => (one.axis === axis ? [i] : []));
      const from = set.signals.findIndex((one) => one.key === key);
      const to = own[own.indexOf(from) + by];
      const [moved, other] = [set.signals[from], to === undefined ? undefined : set.signals[to]];
      if (!moved || !other) return set;
      return { ...set, signals: set.signals.map((one, i) => (i === from ? other : i === to ? moved : one)) };
    });
  }

  protected remove(key: string): void {
    this.choice.change((set) => ({ ...set, signals: set.signals.filter((signal) => signal.key !== key) }));
    this.editing.set(null);
  }

  protected moveCut(axis: Axis, at: number, to: number): void {
    this.choice.change(withCut(axis, at, to));
  }
}
