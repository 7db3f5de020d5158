import type { Organisation } from '../people/people';
import type { RouteKey, StageKey } from '../record/keys';
import type { Occasion } from '../record/occasion';
import type { Place } from '../record/place';
import { membersAt } from './choose';
import type { Matched } from './attempts';
import type { Destination } from './destination';
import type { MatchedRoute, RouteMatch } from './match-route';
import type { Stream } from './stream';

/** Events on which a record that a route has given away can go through its stream again. */
export const AGAIN_WHEN = [
  'entered',
  'edited',
  'activity',
  'tie-changed',
  'territory-changed',
  'time',
  'schedule',
] as const;
export type AgainWhen = (typeof AGAIN_WHEN)[number];

/** An occasion, with what it changed. */
export interface Trigger {
  readonly occasion: Occasion;
  /** It entered the stage in which it stands now. */
  readonly entered: boolean;
  readonly territoryChanged: boolean;
}

type AskedAgain = Pick<Stream, 'on' | 'entering' | 'again'>;

/** Whether a stream asks records in a stage again, now that this happened to them. */
export function asksAgain({ on, entering, again }: AskedAgain, stage: StageKey, trigger: Trigger): boolean {
  if (!on || again === undefined || again.length === 0 || !entering.includes(stage)) return false;
  return eventsOf(trigger).some((one) => again.includes(one));
}

function eventsOf({ occasion, entered, territoryChanged }: Trigger): readonly AgainWhen[] {
  const more: AgainWhen[] = [];
  if (entered) more.push('entered');
  if (territoryChanged) more.push('territory-changed');
  switch (occasion) {
    case 'edited':
    case 'joined':
      return ['edited', ...more];
    case 'activity':
    case 'tie-changed':
    case 'time':
      return [occasion, ...more];
    case 'scheduled':
      return ['schedule', ...more];
    case 'moved':
    case 'accepted':
      return more;
    // A charter that comes into force, and someone who is free now, take no owner away.
    case 'created':
    case 'freed':
    case 'given':
    case 'enacted':
    case 'regated':
    case 'rerouted':
    case 'handed-on':
    case 'overdue':
    case 'given-back':
    case 'looked-at':
      return [];
  }
}

/**
 * Whether a record that a route gave away is to be given away anew: a stream asks again, and the route that matches now is
 * another one, or leads no longer to whom it has.
 *
 * @param placedBy the route that gave it its place; null: a hand did, or a file, and it stays
 */
export function leadsElsewhere(
  streams: readonly (AskedAgain & Pick<Stream, 'routes'>)[],
  match: RouteMatch,
  { stage, place, placedBy }: { readonly stage: StageKey; readonly place: Place; readonly placedBy: RouteKey | null },
  trigger: Trigger,
  people: Organisation,
): boolean {
  if (placedBy === null || match.kind !== 'matched' || match.later !== undefined) return false;
  const stream = streams.find(({ routes }) => routes.some(({ key }) => key === match.route));
  if (stream === undefined || !asksAgain(stream, stage, trigger)) return false;
  // The owner of the company goes before the routes that are tried next.
  if (match.asOwner === true) return !isAt(match, place, people);
  return !isWhereItLeads(match, placedBy, place, people);
}

/** Whether the route that placed a record is among those that match it, and leads to where it is. */
export function isWhereItLeads(match: Matched, placedBy: RouteKey, place: Place, people: Organisation): boolean {
  const own = [match, ...(match.then ?? [])].find(({ route }) => route === placedBy);
  return own !== undefined && isAt(own, place, people);
}

/** The team of a route whose manager hands on; else where it leads. */
function teamOf(to: Destination): Destination {
  return to.kind === 'handed-on' ? { kind: 'team', team: to.team } : to;
}

/** Whether a record is where a route leads. */
function isAt({ to }: MatchedRoute, place: Place, people: Organisation): boolean {
  switch (place.kind) {
    case 'owner':
      return membersAt(teamOf(to), people).reps.includes(place.rep);
    case 'queue':
      return (to.kind === 'queue' || to.kind === 'handed-on') && to.queue === place.queue;
    case 'bay':
    case 'not-handed-over':
      return false;
  }
}
