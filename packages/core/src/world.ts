import type { Organisation, Rota } from './people/people';
import type { Catalogue } from './record/field';
import type { Rates } from './record/money';

/** What is outside the charter and effective at once, and the state of turns and loads. */
export interface World extends Organisation {
  readonly fields: Catalogue;
  readonly rates: Rates;
  readonly rota: Rota;
}
