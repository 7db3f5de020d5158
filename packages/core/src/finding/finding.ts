import type { Subject } from '../condition/subject';
import type { RouteKey } from '../record/keys';

/** A value of a made-up record, as it is typed; '' is blank. */
export interface Witness {
  readonly subject: Subject;
  readonly value: string;
}

/** Something that a charter shows by itself: where, and what proves it. */
export type Finding =
  /** No record can come to a route: its own condition never holds, or those before it take all that it would. */
  | {
      readonly code: 'route-never-reached';
      readonly severity: 'warning';
      readonly stream: string;
      readonly route: RouteKey;
      /** Null: it holds for nothing. Else the one before that takes all of it; `several`: they do together. */
      readonly takenBy: RouteKey | 'several' | null;
    }
  /** Numbers between what two routes take, which no route does. */
  | {
      readonly code: 'gap-between-numbers';
      readonly severity: 'warning';
      readonly stream: string;
      /** The routes on both sides. */
      readonly below: RouteKey;
      readonly above: RouteKey;
      readonly subject: Subject;
      /** The numbers left out, as they are written: from the first to the last, both belong to them. */
      readonly from: string;
      readonly to: string;
      /** A record that falls through. */
      readonly witness: readonly Witness[];
    };
