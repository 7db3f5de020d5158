import type { Happening } from '../activity/happened';

export const SCORE_AXES = ['fit', 'engagement', 'rank'] as const;
export type ScoreAxis = (typeof SCORE_AXES)[number];
export const BAND_AXES = ['fit', 'engagement'] as const;
export type BandAxis = (typeof BAND_AXES)[number];

/** A value of the record itself. An amount of money is asked about in the base currency. */
export interface FieldSubject {
  readonly kind: 'field';
  readonly field: string;
}

/** A day that a condition asks about: that of a field, of the arrival, or on which they last did something. */
export type DaySubject = FieldSubject | { readonly kind: 'arrived' } | { readonly kind: 'last-activity' };

/** The thing that a test asks about; a predicate says what is asked of it. */
export type Subject =
  | FieldSubject
  /** The currency in which an amount was entered. */
  | { readonly kind: 'currency'; readonly field: string }
  /** An amount in whatever currency it was entered. */
  | { readonly kind: 'amount'; readonly field: string }
  /** Days from a day to the day of the decision: 0 is that day, −7 a week later. */
  | { readonly kind: 'days-since'; readonly day: DaySubject }
  | { readonly kind: 'arrived' }
  | { readonly kind: 'last-activity' }
  /** How often something happened. */
  | ({ readonly kind: 'happened' } & Happening)
  | { readonly kind: 'way-in' }
  /** Of the set that grades the record. Rank is fit plus engagement. */
  | { readonly kind: 'score'; readonly axis: ScoreAxis }
  /** Of one set, whether or not it grades the record; blank where it gives none. */
  | { readonly kind: 'set-score'; readonly set: string; readonly axis: ScoreAxis }
  /** The name of a band, of the set that grades the record. */
  | { readonly kind: 'band'; readonly axis: BandAxis }
  | { readonly kind: 'verdict' }
  | { readonly kind: 'stage' }
  /** Whole days since it entered its stage. */
  | { readonly kind: 'days-in-stage' }
  /** Whole hours since it entered its stage. */
  | { readonly kind: 'hours-in-stage' }
  /** The owner before the decision. */
  | { readonly kind: 'owner' }
  /** The teams of that owner. */
  | { readonly kind: 'team' }
  | { readonly kind: 'territory' };

export type SubjectKind = Subject['kind'];
/** The subjects of one kind. */
export type SubjectOf<K extends SubjectKind> = Extract<Subject, { readonly kind: K }>;
