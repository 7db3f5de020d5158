import type { Condition } from '../condition/condition';
import type { Lookup } from '../sweep/lookup';
import type { RulePlace } from '../condition/scope';
import type { RouteFinding } from '../finding/finding';
import type { ImpactDesk, Match, Meeting } from './desk';
import type { FieldValues } from './field-values';
import type { GateWaits } from './gate-waits';
import type { Impact, OwnerImpact } from './impact';
import type { Answered, Pair } from './lines';
import type { RuleTally, Taken } from './rule-counts';
import type { ImpactReading, OnEnact } from './scope';

/** What can be asked of an impact desk, and what it answers. */
export interface ImpactQuestions {
  readonly impact: {
    readonly asks: { readonly pair: Pair; readonly reading: ImpactReading };
    readonly answers: Answered<Impact>;
  };
  readonly owners: {
    readonly asks: { readonly pair: Pair; readonly reading: ImpactReading };
    readonly answers: Answered<OwnerImpact>;
  };
  readonly meeting: {
    readonly asks: { readonly pair: Pair; readonly reading: OnEnact };
    readonly answers: Answered<Meeting>;
  };
  readonly tally: { readonly asks: { readonly pair: Pair }; readonly answers: Answered<RuleTally> };
  readonly taken: { readonly asks: { readonly pair: Pair }; readonly answers: Answered<Taken> };
  readonly waits: {
    readonly asks: { readonly pair: Pair };
    readonly answers: Answered<Readonly<Record<string, GateWaits>>>;
  };
  readonly findings: { readonly asks: { readonly pair: Pair }; readonly answers: readonly RouteFinding[] };
  readonly match: {
    readonly asks: { readonly pair: Pair; readonly condition: Condition; readonly place: RulePlace };
    readonly answers: Answered<Match>;
  };
  readonly values: { readonly asks: { readonly field: string; readonly base: string }; readonly answers: FieldValues };
}

export type ImpactQuestionName = keyof ImpactQuestions;
export type Asks<Q extends ImpactQuestionName> = ImpactQuestions[Q]['asks'];
export type Answers<Q extends ImpactQuestionName> = ImpactQuestions[Q]['answers'];

type Desk = { readonly [Q in ImpactQuestionName]: (desk: ImpactDesk, asks: Asks<Q>) => Answers<Q> };

const DESK: Desk = {
  impact: (desk, { pair, reading }) => desk.impact(pair, reading),
  owners: (desk, { pair, reading }) => desk.owners(pair, reading),
  meeting: (desk, { pair, reading }) => desk.meeting(pair, reading.scope),
  tally: (desk, { pair }) => desk.tally(pair),
  taken: (desk, { pair }) => desk.taken(pair),
  waits: (desk, { pair }) => desk.waits(pair),
  findings: (desk, { pair }) => desk.findings(pair),
  match: (desk, { pair, condition, place }) => desk.match(pair, condition, place),
  values: (desk, { field, base }) => desk.valuesOf(field, base),
};

/** Puts a question to a desk: the same in every place where a desk stands. */
export function askDesk<Q extends ImpactQuestionName>(desk: ImpactDesk, question: Q, asks: Asks<Q>): Answers<Q> {
  return DESK[question](desk, asks);
}

/** What has to be looked up and given before a question can be answered. */
export function missingFor<Q extends ImpactQuestionName>(desk: ImpactDesk, asks: Asks<Q>): Lookup[] {
  if (!('pair' in asks)) return [];
  const reading = 'reading' in asks ? asks.reading : ({ kind: 'came-in' } as const);
  return desk.missing(asks.pair, 'condition' in asks ? [asks.condition] : [], reading);
}
