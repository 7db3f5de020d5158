export const SCORE_AXES = ['fit', 'engagement', 'rank'] as const;
export type ScoreAxis = (typeof SCORE_AXES)[number];
export const BAND_AXES = ['fit', 'engagement'] as const;
export type BandAxis = (typeof BAND_AXES)[number];

/** A value of the record itself. An amount of money is asked about in the base currency. */
export interface FieldSubject {
  readonly kind: 'field';
  readonly field: string;
}

/** What a condition asks about; a predicate says what is asked of it. */
export type Subject =
  | FieldSubject
  /** The currency in which an amount was entered. */
  | { readonly kind: 'currency'; readonly field: string }
  /** So many days before the day of the decision: 0 is that day, −7 a week later. */
  | { readonly kind: 'days-since'; readonly day: FieldSubject }
  /** Of the set that grades the record. Rank is fit plus engagement. */
  | { readonly kind: 'score'; readonly axis: ScoreAxis }
  /** The name of a band, of the set that grades the record. */
  | { readonly kind: 'band'; readonly axis: BandAxis }
  | { readonly kind: 'verdict' }
  | { readonly kind: 'stage' }
  | { readonly kind: 'territory' };

export type SubjectKind = Subject['kind'];
/** The subjects of one kind. */
export type SubjectOf<K extends SubjectKind> = Extract<Subject, { readonly kind: K }>;

/** A field as a subject. */
export function fieldSubject(key: string): FieldSubject {
  return { kind: 'field', field: key };
}
