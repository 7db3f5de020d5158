/** What a cell can ask for, in falling order of worth. The keys are fixed, the admin names them. */
export const VERDICT_KEYS = ['hand-over-now', 'hand-over', 'nurture', 'no-action', 'decline'] as const;
export type VerdictKey = (typeof VERDICT_KEYS)[number];

/** Recipients of a notice: the owner, the managers of the owner's teams, operations. */
export const RECIPIENTS = ['owner', 'manager', 'operations'] as const;
export type Recipient = (typeof RECIPIENTS)[number];

export interface Verdict {
  readonly key: VerdictKey;
  readonly name: string;
  /** The recipients of a notice when a lead gets this verdict. */
  readonly notify: readonly Recipient[];
}
