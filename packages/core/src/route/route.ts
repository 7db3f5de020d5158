import type { Condition } from '../condition/condition';
import type { QueueKey, RepKey, RouteKey, TeamKey } from '../record/keys';

/** Where a route leads. A team takes turns, round robin. */
export type Destination =
  | { readonly kind: 'rep'; readonly rep: RepKey }
  | { readonly kind: 'team'; readonly team: TeamKey }
  | { readonly kind: 'queue'; readonly queue: QueueKey };

export interface Route {
  readonly key: RouteKey;
  readonly name: string;
  readonly on: boolean;
  readonly when: Condition;
  readonly to: Destination;
}
