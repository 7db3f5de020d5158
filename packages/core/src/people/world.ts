import type { Organisation, Rota } from './people';
import type { ActivityKinds } from '../activity/activity-kind';
import type { Catalogue } from '../record/catalogue';
import type { Rates } from '../record/money';

/** What a charter may name: fields, kinds of activities, people. */
export interface Surroundings extends Organisation {
  readonly fields: Catalogue;
  readonly kinds: ActivityKinds;
}

/** What is outside the charter and effective at once, and the state of turns and loads. */
export interface World extends Surroundings {
  readonly rates: Rates;
  readonly rota: Rota;
}
