import type { Test } from '../condition/condition';
import type { PropertyTest } from '../activity/property-test';

/** What a population can't answer by itself, since it is withheld from it: it is looked up where the records are stored. */
export type Lookup =
  | { readonly of: 'test'; readonly test: Test }
  /** Activities of a kind that have certain properties. */
  | { readonly of: 'activities'; readonly kind: string; readonly having: readonly PropertyTest[] };

/** The answer to a lookup, by ids of records. */
export type Found =
  | {
      readonly of: 'test';
      readonly test: Test;
      /** The records it holds for, and those that can't be judged. */
      readonly yes: readonly number[];
      readonly unjudged: readonly number[];
    }
  | {
      readonly of: 'activities';
      readonly kind: string;
      readonly having: readonly PropertyTest[];
      /** Whose each is, and when it was. */
      readonly ids: readonly number[];
      readonly at: readonly number[];
    };
