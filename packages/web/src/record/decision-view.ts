import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import {
  accountWords,
  type Decision,
  exclusionWords,
  gateChangeWords,
  gateWords,
  HANDLING_WORDS,
  loopWords,
  madeWords,
  placeWords,
  pointsChangesWords,
  routingWords,
  territoryWords,
  type Wording,
  gradeWords,
} from '@relvik/core';
import type { GradeMove } from '@relvik/contracts';
import { occasionWords } from './occasion-words';
import { OWN_ZONE } from '../people/moment-words';
import { ScoreAccount } from './score-account';

/** The whole account of one decision, step by step. */
@Component({
  selector: 'rv-decision',
  imports: [DatePipe, ScoreAccount],
  templateUrl: './decision-view.html',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class DecisionView {
  readonly decision = input.required<Decision>();
  readonly wording = input.required<Wording>();
  /** Where it is told: when its grade last moved, and why. */
  readonly gradeMoved = input<GradeMove | null>(null);
  protected readonly occasionWords = occasionWords;
  protected readonly gradeWords = gradeWords;
  protected readonly why = computed(() => pointsChangesWords(this.gradeMoved()?.changes ?? [], this.wording().names));

  /** Why gates and routes were not asked; null: they were. */
  protected readonly handling = computed(() => {
    const { handling } = this.decision();
    return handling === undefined ? null : `It was ${HANDLING_WORDS[handling]}.`;
  });

  protected readonly gates = computed(() =>
    this.decision().gates.looked.map((look) => ({
      ...look,
      name: this.wording().names.gate(look.gate),
      words: gateWords(look.answer),
      why: accountWords(look.account, this.wording()),
    })),
  );

  /** The values that gates changed, each with its gate. */
  protected readonly changes = computed(() =>
    this.decision().gates.changes.map(
      (change) => `${this.wording().names.gate(change.gate)}: ${gateChangeWords(change, this.wording())}`,
    ),
  );
  protected readonly loop = computed(() => loopWords(this.decision().gates.loop, this.wording()));

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

  protected readonly destination = computed(() => routingWords(this.decision(), this.wording().names));
  protected readonly skipped = computed(() =>
    this.decision().skipped.map(
      ({ rep, exclusion }) =>
        `${this.wording().names.rep(rep)} ${exclusionWords(exclusion, this.wording().names, OWN_ZONE)}`,
    ),
  );
  protected readonly territory = computed(() => territoryWords(this.decision().territory, this.wording().names));
  protected readonly place = computed(() => placeWords(this.decision().place, this.wording().names));
  /** The deal and the tasks that came with it. */
  protected readonly made = computed(() => madeWords(this.decision(), this.wording(), OWN_ZONE));
  protected readonly verdict = computed(() => {
    const { grade } = this.decision();
    return grade === null ? null : this.wording().names.verdict(grade.verdict);
  });
}
