import type { Ground } from '../territory/claims';
import type { Subject } from '../condition/subject';
import type { ValueEffect } from '../gate/effect';
import type { CharterPlace } from '../charter/charter-place';
import type { RouteKey, TeamKey, TerritoryKey } from '../record/keys';

/** A value of a made-up record, as it is typed; '' is blank. */
export interface Witness {
  readonly subject: Subject;
  readonly value: string;
}

/** A finding of a search of a stream's routes. */
export type RouteFinding = Extract<Finding, { code: 'route-never-reached' | 'gap-between-numbers' }>;

/** Something that a charter shows by itself: where, and what proves it. An error keeps it from coming into force. */
export type Finding =
  /** A part that names what is not there, or asks what can't be asked. */
  | {
      readonly code: 'unusable';
      readonly severity: 'error';
      readonly place: CharterPlace;
      readonly message: string;
    }
  /** A signal for a kind of activity that does not exist. */
  | {
      readonly code: 'no-such-kind';
      readonly severity: 'error';
      readonly set: string;
      readonly signal: string;
      readonly activity: string;
    }
  /** A score set reads what a gate changes, though records are scored before they pass gates. */
  | {
      readonly code: 'scores-read-gate';
      readonly severity: 'error';
      readonly set: string;
      /** Null: its entry condition does. */
      readonly signal: string | null;
      readonly gate: string;
      readonly effect: ValueEffect;
    }
  /** Ground that several territories cover of which none lies inside another. */
  | {
      readonly code: 'overlap';
      readonly severity: 'error';
      readonly ground: Ground;
      /** The territory that counts until it is mended. */
      readonly counts: TerritoryKey;
      readonly others: readonly TerritoryKey[];
    }
  /** A territory lists ground that wider ground of its own includes. */
  | {
      readonly code: 'swallowed';
      readonly severity: 'warning';
      readonly ground: Ground;
      readonly territory: TerritoryKey;
    }
  /** A territory that covers ground, and that no rule asks for. */
  | {
      readonly code: 'territory-unused';
      readonly severity: 'warning';
      readonly territory: TerritoryKey;
    }
  /** A route to a team that nobody is in. */
  | {
      readonly code: 'empty-team';
      readonly severity: 'warning';
      readonly stream: string;
      readonly route: RouteKey;
      readonly team: TeamKey;
    }
  /** A route to people of whom none could ever be given a lead: none may take any, or has what the route asks for. */
  | {
      readonly code: 'nobody-can-take';
      readonly severity: 'warning';
      readonly stream: string;
      readonly route: RouteKey;
    }
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
