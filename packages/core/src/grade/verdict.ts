/** What a cell can ask for, in falling order of worth. The keys are fixed, the admin names them. */
export const VERDICT_KEYS = ['hand-over-now', 'hand-over', 'nurture', 'no-action', 'decline'] as const;
export type VerdictKey = (typeof VERDICT_KEYS)[number];

/** Who can be told: the owner, the managers of the owner's teams, operations. */
export const TELLS = ['owner', 'manager', 'operations'] as const;
export type Tell = (typeof TELLS)[number];

export interface Verdict {
  readonly key: VerdictKey;
  readonly name: string;
  /** Who is told when something gives a lead this verdict. */
  readonly tells: readonly Tell[];
}
