import {
  type ImpactQuestionName,
  type ImpactReading,
  type Instant,
  type Lookup,
  REACHES,
  RULE_PLACES,
  type RulePlace,
} from '@relvik/core';
import { array, boolean, mixed, object, type Schema, string } from 'yup';
import { enactScopeSchema } from './charter';
import { keyText } from './text';

/** Where the population is computed with: up to so many records in the browser, beyond that on the server. */
export interface PopulationPlace {
  readonly version: string;
  readonly place: 'browser' | 'server';
}

/** When a population was read, and how many records it has. */
export interface PopulationState {
  readonly asOf: Instant;
  readonly version: string;
  readonly size: number;
}

const json = () => mixed<object>((value): value is object => typeof value === 'object');

/** What is to be looked up of what the population withholds; read where it is used. */
export const populationLookupsSchema = object({ lookups: array(json().required()).max(200).required() }).exact();
export interface PopulationLookups {
  readonly lookups: readonly Lookup[];
}

const QUESTIONS: readonly ImpactQuestionName[] = [
  'impact',
  'owners',
  'meeting',
  'tally',
  'taken',
  'waits',
  'findings',
  'match',
  'values',
];

const reading = object({
  kind: string().oneOf(['came-in', 'on-enact']).required(),
  reach: string()
    .oneOf(REACHES)
    .when('kind', { is: 'on-enact', then: (reach) => reach.required('Say how far') }),
  scope: enactScopeSchema
    .default(undefined)
    .when('kind', { is: 'on-enact', then: (scope) => scope.required('Say which records') }),
  accepted: boolean(),
})
  .exact()
  .default(undefined);
/** A union by its kind, which Yup's types can't say. */
const readingSchema = reading as unknown as Schema<ImpactReading | undefined>;

/** What a page asks the server's desk, where the population is too large for the browser. */
export const deskQuestionSchema = object({
  question: string().oneOf(QUESTIONS).required(),
  asks: object({
    pair: object({ inForce: json().required(), draft: json().required() }).exact().default(undefined),
    reading: readingSchema,
    condition: json(),
    place: string().oneOf(RULE_PLACES),
    field: keyText(),
    base: keyText(),
  })
    .exact()
    .required(),
}).exact();
export interface DeskQuestion {
  readonly question: ImpactQuestionName;
  /** As the question needs them; charters and conditions are read where they are used. */
  readonly asks: {
    readonly pair?: { readonly inForce: object; readonly draft: object };
    readonly reading?: ImpactReading;
    readonly condition?: object;
    readonly place?: RulePlace;
    readonly field?: string;
    readonly base?: string;
  };
}

/** The answer, and which population it is about. */
export interface DeskAnswer {
  readonly population: PopulationState;
  readonly answer: unknown;
}
