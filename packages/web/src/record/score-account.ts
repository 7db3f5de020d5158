import { DatePipe, NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import {
  accountWords,
  admissionWords,
  AXES,
  type Axis,
  axisWords,
  heldWords,
  type Score,
  seenWords,
  type SetScore,
  signed,
  type Wording,
} from '@relvik/core';

/** What the score sets give a record: both axes of the one that grades, signal by signal, and the others beside. */
@Component({
  selector: 'rv-score-account',
  imports: [DatePipe, NgTemplateOutlet],
  templateUrl: './score-account.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ScoreAccount {
  readonly score = input.required<Score>();
  readonly wording = input.required<Wording>();

  /** Why no set grades it; null: one does. */
  protected readonly notAdmitted = computed(() =>
    this.score().admitted === 'yes' ? null : admissionWords(this.score(), this.wording()),
  );
  protected readonly axes = computed(() => this.axesOf(this.score()));
  /** Named only where it is one of several. */
  protected readonly set = computed(() => {
    const { set, beside } = this.score();
    return set === null || beside.length === 0 ? null : this.wording().names.set(set);
  });
  protected readonly beside = computed(() =>
    this.score().beside.map((one) => ({
      key: one.set,
      name: this.wording().names.set(one.set),
      axes: this.axesOf(one),
    })),
  );

  private axesOf(score: Omit<SetScore, 'set'>) {
    return AXES.map((axis) => ({
      axis,
      title: axis === 'fit' ? 'Fit' : 'Engagement',
      sum: axisWords(score[axis], this.wording()),
      signals: this.signalsOf(axis, score.signals),
      held: score.held.filter((one) => one.axis === axis).map((one) => heldWords(one, this.wording())),
    }));
  }

  private signalsOf(axis: Axis, signals: SetScore['signals']) {
    const { names } = this.wording();
    return signals
      .filter((outcome) => outcome.axis === axis && outcome.answer !== 'no')
      .map((outcome) => ({
        name: names.signal(outcome.signal),
        points: outcome.answer === 'unjudged' ? 'can’t be judged' : signed(outcome.points),
        negative: outcome.points < 0,
        unjudged: outcome.answer === 'unjudged',
        why:
          outcome.seen === null
            ? outcome.account === null
              ? ''
              : accountWords(outcome.account, this.wording())
            : seenWords(outcome.seen),
        newest: outcome.seen?.newest ?? null,
      }));
  }
}
