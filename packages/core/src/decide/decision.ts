import type { GatePassage } from '../gate/pass-gates';
import type { Grade } from '../grade/grade';
import type { Turn } from '../people/people';
import type { Skipped } from '../method/method';
import type { Instant, QueueKey, RepKey, RouteKey, StageKey } from '../record/keys';
import type { Handling } from '../record/handling';
import type { Occasion } from '../record/occasion';
import type { Place } from '../record/place';
import type { Status } from '../record/record';
import type { Value } from '../record/value';
import type { Routing } from '../route/match-route';
import type { Told } from '../route/route';
import type { MadeDeal } from '../deal/deal-rule';
import type { MadeTask } from '../task/task';
import type { Score } from '../score/score-by-sets';
import type { TerritoryAnswer } from '../territory/coverage';

/** What a decision asks others to do, once it is written down. */
export type Effect =
  | { readonly kind: 'tell-owner'; readonly rep: RepKey }
  | { readonly kind: 'tell-queue'; readonly queue: QueueKey }
  /** A lead that no route takes: operations hears of it. */
  | { readonly kind: 'tell-operations'; readonly of: 'last-resort' | 'bay' | 'nobody-has-skill' };

/** A value that came in and can't be read. */
export interface Warning {
  readonly field: string;
  readonly raw: string;
  readonly why: string;
}

/** All that can be said of a record without knowing whose turn it is. */
export interface Appraisal {
  readonly record: string;
  readonly asOf: Instant;
  readonly occasion: Occasion;
  /** Where its way in, or a hand, lets rules be asked no further than the grade. Missing: all are asked. */
  readonly handling?: Exclude<Handling, 'decide'>;
  readonly score: Score;
  /** fit + engagement, for ordering; null without a score on both axes. */
  readonly rank: number | null;
  readonly grade: Grade | null;
  readonly gates: GatePassage;
  readonly stage: StageKey;
  readonly status: Status;
  readonly territory: TerritoryAnswer;
  /** Null when the record is not routed on this occasion. */
  readonly routing: Routing | null;
  readonly warnings: readonly Warning[];
}

/** The whole outcome for one record, and the account of how it came about. It does nothing itself. */
export interface Decision extends Appraisal {
  readonly place: Place;
  readonly skipped: readonly Skipped[];
  /** The route that placed the record, and its turns before and after. */
  readonly turn: { readonly route: RouteKey; readonly before: Turn | null; readonly after: Turn | null } | null;
  /** The route that placed it, where that is not the first that matched. */
  readonly placedBy?: RouteKey;
  /** It was routed, and is still where it was, by what placed it there. */
  readonly kept?: true;
  /** The tags that it has from the route that placed it. Missing: the route adds none. */
  readonly tagged?: { readonly field: string; readonly value: Value; readonly route: RouteKey };
  /** The recipients of a notice that a route placed it, besides its owner. Missing: none. */
  readonly tell?: readonly Told[];
  /** The tasks that gates and the route that placed it make. Missing: none. */
  readonly tasks?: readonly MadeTask[];
  /** The deal that a gate makes of it. Missing: none. */
  readonly deal?: MadeDeal;
  /** By how many the open leads of each rep change. */
  readonly loads: readonly { readonly rep: RepKey; readonly by: 1 | -1 }[];
  readonly effects: readonly Effect[];
}
