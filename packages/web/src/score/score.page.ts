import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { toSignal } from '@angular/core/rxjs-interop';
import { FormsModule } from '@angular/forms';
import { AXES, type Axis, signalWords, signed } from '@relvik/core';
import { asLoaded, LOADING, valueOf } from '../api/loaded';
import { Waiting } from '../api/waiting';
import { CharterService } from '../charter/charter.service';
import { DraftNote } from '../frame/draft-note';
import { HomeService } from '../home/home.service';
import { WordingService } from '../record/wording.service';
import { DistributionChart } from './distribution-chart';

/** Score: every signal with its points, per axis; points are changed in the draft. */
@Component({
  selector: 'rv-score',
  imports: [FormsModule, DistributionChart, DraftNote, Waiting],
  templateUrl: './score.page.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScorePage {
  protected readonly charters = inject(CharterService);
  private readonly words = inject(WordingService);
  protected readonly axes = AXES;
  protected readonly distribution = toSignal(asLoaded(inject(HomeService).distribution()), { initialValue: LOADING });
  protected readonly spread = computed(() => valueOf(this.distribution()));
  protected readonly set = computed(() => this.charters.shown()?.scoreSet ?? null);
  protected readonly setInForce = computed(() => this.charters.inForce()?.charter.scoreSet ?? null);

  protected readonly groups = computed(() => {
    const inForce = new Map((this.setInForce()?.signals ?? []).map((signal) => [signal.key, signal]));
    return AXES.map((axis) => ({
      axis,
      title: axis === 'fit' ? 'Fit' : 'Engagement',
      about: axis === 'fit' ? 'what they are' : 'what they do',
      signals: (this.set()?.signals ?? [])
        .filter((signal) => signal.axis === axis)
        .map((signal) => {
          const before = inForce.get(signal.key);
          return {
            signal,
            words: signalWords(signal, this.words.wording()),
            before: before && before.points !== signal.points ? signed(before.points) : null,
            fresh: before === undefined,
          };
        }),
    }));
  });
  protected readonly changed = computed(() =>
    this.groups().reduce(
      (sum, { signals }) => sum + signals.filter((one) => one.before !== null || one.fresh).length,
      0,
    ),
  );

  protected setPoints(key: string, typed: string, field: HTMLInputElement): void {
    const points = Number(typed);
    const before = this.set()?.signals.find((signal) => signal.key === key)?.points;
    if (typed.trim() === '' || !Number.isFinite(points)) {
      field.value = String(before ?? '');
      return;
    }
    if (points === before) return;
    this.charters.change((charter) => ({
      ...charter,
      scoreSet: {
        ...charter.scoreSet,
        signals: charter.scoreSet.signals.map((signal) => (signal.key === key ? { ...signal, points } : signal)),
      },
    }));
  }

  protected leadsOn(axis: Axis): readonly { readonly score: number; readonly count: number }[] {
    return this.spread()?.[axis] ?? [];
  }

  protected signed(points: number): string {
    return signed(points);
  }
}
