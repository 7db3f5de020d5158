import type { Exclusion } from '../people/eligible';
import type { Organisation, Rota, Turn } from '../people/people';
import type { RepKey } from '../record/keys';

/** The ways in which one of several people is chosen. */
export const METHODS = [
  'round-robin',
  'weighted',
  'lightest-load',
  'first-free',
  'first-on-the-list',
  'random',
] as const;
export type Method = (typeof METHODS)[number];

/** Someone who was passed over, and why. */
export interface Skipped {
  readonly rep: RepKey;
  readonly exclusion: Exclusion;
}

/** Those among whom is chosen, in order, and all by which they are. */
export interface Choosing {
  readonly members: readonly RepKey[];
  /** Why a member can't be given the record, or null. */
  readonly exclusion: (rep: RepKey) => Exclusion | null;
  readonly turn: Turn | null;
  readonly people: Pick<Organisation, 'reps'>;
  readonly rota: Pick<Rota, 'loads' | 'lastGiven'>;
  /** Differs from record to record: what `random` is drawn from. */
  readonly seed: string;
}

export interface Choice {
  readonly chosen: RepKey | null;
  readonly skipped: readonly Skipped[];
  /** The turn to keep; unchanged when nobody was chosen, and by methods without turns. */
  readonly turn: Turn | null;
}

/** Members apart: those who can be given the record, in order, and those who can't. */
export function sift({ members, exclusion }: Choosing): { eligible: RepKey[]; skipped: Skipped[] } {
  const eligible: RepKey[] = [];
  const skipped: Skipped[] = [];
  for (const rep of members) {
    const excluded = exclusion(rep);
    if (excluded === null) eligible.push(rep);
    else skipped.push({ rep, exclusion: excluded });
  }
  return { eligible, skipped };
}

/** The one who comes first by an order, of equals the one who stands first; null: there is nobody. */
export function foremost(reps: readonly RepKey[], order: (a: RepKey, b: RepKey) => number): RepKey | null {
  return reps.reduce<RepKey | null>((best, rep) => (best === null || order(rep, best) < 0 ? rep : best), null);
}
