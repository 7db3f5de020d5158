import { DateTime } from 'luxon';
import type { Instant } from '../record/keys';
import { type Bits, noBits, setBit } from '../column/bits';
import type { Population } from '../sweep/population';
import type { Accepting, Reach } from '../sweep/sweep';

/** Which records a charter is applied to when it comes into force. */
export type EnactScope =
  | { readonly which: 'all' }
  /** Those with which something happened in the last so many months. */
  | { readonly which: 'touched'; readonly months: number }
  | { readonly which: 'new' };

export interface OnEnact extends Accepting {
  readonly kind: 'on-enact';
  readonly reach: Reach;
  readonly scope: EnactScope;
}

/** How an impact is read. */
export type ImpactReading = ({ readonly kind: 'came-in' } & Accepting) | OnEnact;

/** The instant from which on a record counts as touched lately: so many calendar months back. */
export function touchedSince(asOf: Instant, months: number, zone: string): Instant {
  return DateTime.fromMillis(asOf, { zone }).minus({ months }).toMillis();
}

/** The records that a scope chooses. */
export function chosenBy(scope: EnactScope, population: Population, everyone: Bits, asOf: Instant, zone: string): Bits {
  switch (scope.which) {
    case 'all':
      return everyone;
    case 'new':
      return noBits(population.size);
    case 'touched': {
      const since = touchedSince(asOf, scope.months, zone);
      const chosen = noBits(population.size);
      for (let i = 0; i < population.size; i += 1) if ((population.touched[i] as number) >= since) setBit(chosen, i);
      return chosen;
    }
  }
}
