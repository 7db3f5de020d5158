import { DatePipe, NgTemplateOutlet } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import {
  accountWords,
  admissionWords,
  AXES,
  type Axis,
  axisWords,
  type Decision,
  destinationWords,
  exclusionWords,
  gateWords,
  heldWords,
  placeWords,
  seenWords,
  type SetScore,
  signed,
  territoryWords,
  type Wording,
} from '@relvik/core';

/** The whole account of one decision, step by step. */
@Component({
  selector: 'rv-decision',
  imports: [DatePipe, NgTemplateOutlet],
  templateUrl: './decision-view.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DecisionView {
  readonly decision = input.required<Decision>();
  readonly wording = input.required<Wording>();

  /** Why no set grades it; null: one does. */
  protected readonly notAdmitted = computed(() => {
    const { score } = this.decision();
    return score.admitted === 'yes' ? null : admissionWords(score, this.wording());
  });
  protected readonly axes = computed(() => this.axesOf(this.decision().score));
  /** Named only where it is one of several. */
  protected readonly set = computed(() => {
    const { set, beside } = this.decision().score;
    return set === null || beside.length === 0 ? null : this.wording().names.set(set);
  });
  protected readonly beside = computed(() =>
    this.decision().score.beside.map((one) => ({
      key: one.set,
      name: this.wording().names.set(one.set),
      axes: this.axesOf(one),
    })),
  );

  protected readonly gates = computed(() =>
    this.decision().gates.looked.map((look) => ({
      ...look,
      name: this.wording().names.gate(look.gate),
      words: gateWords(look.answer),
      why: accountWords(look.account, this.wording()),
    })),
  );

  protected readonly routes = computed(() => {
    const { routing } = this.decision();
    return (routing?.looked ?? [])
      .filter((look) => look.route !== null || look.account.answer !== 'yes')
      .map((look) => ({
        name: look.route === null ? 'Entry of the stream' : this.wording().names.route(look.route),
        answer: look.account.answer,
        words: { yes: 'matches', no: 'does not match', unjudged: 'can’t be judged' }[look.account.answer],
        why: accountWords(look.account, this.wording()),
      }));
  });

  protected readonly destination = computed(() => {
    const match = this.decision().routing?.match;
    if (match?.kind === 'matched') return `leads to ${destinationWords(match.to, this.wording().names)}`;
    return match?.kind === 'none' ? 'No route matches: the last resort' : null;
  });
  protected readonly skipped = computed(() =>
    this.decision().skipped.map(
      ({ rep, exclusion }) => `${this.wording().names.rep(rep)} ${exclusionWords(exclusion)}`,
    ),
  );
  protected readonly territory = computed(() => territoryWords(this.decision().territory, this.wording().names));
  protected readonly place = computed(() => placeWords(this.decision().place, this.wording().names));
  protected readonly verdict = computed(() => {
    const { grade } = this.decision();
    return grade === null ? null : this.wording().names.verdict(grade.verdict);
  });

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
