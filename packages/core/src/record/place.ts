import type { VerdictKey } from '../grade/verdict';
import type { BayReason } from './bay';
import type { QueueKey, RepKey } from './keys';

/** Where a lead is. Always exactly one. */
export type Place =
  | { readonly kind: 'owner'; readonly rep: RepKey }
  | { readonly kind: 'queue'; readonly queue: QueueKey }
  | { readonly kind: 'bay'; readonly reason: BayReason }
  /** `verdict` is null for a lead that was closed by hand before it had a grade. */
  | {
      readonly kind: 'not-handed-over';
      readonly verdict: VerdictKey | null;
      /** Why a route leads it to nobody. Missing: no route does. */
      readonly reason?: string;
    };
