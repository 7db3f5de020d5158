/** What a cell can ask for, in falling order of worth. The keys are fixed, the admin names them. */
export const VERDICT_KEYS = ['hand-over-now', 'hand-over', 'nurture', 'no-action', 'decline'] as const;
export type VerdictKey = (typeof VERDICT_KEYS)[number];

export interface Verdict {
  readonly key: VerdictKey;
  readonly name: string;
}
