import type { RepKey, RouteKey, TeamKey } from './keys';

/** Why a lead waits in the bay. */
export type BayReason =
  | {
      readonly why: 'nobody-free';
      readonly route: RouteKey;
      readonly rep: RepKey | null;
      readonly team: TeamKey | null;
      /** Other routes that matched, for whose people it waits too. Missing: none. */
      readonly also?: readonly RouteKey[];
    }
  /** The route gives it away when its stream runs by its schedule. */
  | { readonly why: 'scheduled'; readonly stream: string; readonly route: RouteKey }
  | { readonly why: 'unjudged'; readonly fields: readonly string[] }
  | { readonly why: 'loop'; readonly gates: readonly string[] };
