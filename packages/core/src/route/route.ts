import type { Condition } from '../condition/condition';
import type { PipelineKind } from '../gate/pipeline';
import type { QueueKey, RepKey, RouteKey, StageKey, TeamKey } from '../record/keys';

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

/** Routes with one entry condition, which act on entering one of the stages. */
export interface Stream {
  readonly key: string;
  readonly name: string;
  /** The kind of record that it is for. */
  readonly of: PipelineKind;
  readonly on: boolean;
  readonly entering: readonly StageKey[];
  readonly when: Condition;
  readonly routes: readonly Route[];
}
