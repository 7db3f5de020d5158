import type { ReadyCharter } from '../charter/ready-charter';
import type { Appraisal, Decision, Effect } from './decision';
import type { RepKey, RouteKey } from '../record/keys';
import type { BayReason } from '../record/bay';
import type { MovingRecord, Standing, Status } from '../record/record';
import type { Place } from '../record/place';
import { isWhereItLeads } from '../route/again';
import { attemptsOf, type Matched } from '../route/attempts';
import { type CarriedOut, carryOut } from '../route/carry-out';
import type { World } from '../people/world';
import { OCCASION_RULES } from './occasion-rules';
import { routeEffects } from './route-effects';
import { dealMade } from './deal-made';
import { tasksMade } from './tasks-made';

interface Placing extends Partial<Pick<Decision, 'skipped' | 'turn' | 'placedBy' | 'kept'>> {
  readonly place: Place;
  /** The route that placed it. */
  readonly route?: RouteKey;
  readonly lastResort?: boolean;
  /** Nobody at all has the skills that it asks for. */
  readonly hopeless?: boolean;
}

function bay(reason: BayReason): Placing {
  return { place: { kind: 'bay', reason } };
}

/** Gives an appraised record its place, with the turns and loads as they are in `world.rota`. */
export function settle(charter: ReadyCharter, record: MovingRecord, appraisal: Appraisal, world: World): Decision {
  const placing = placingOf(charter, record, appraisal, world);
  const effects = effectsOf(record.standing.place, placing);
  const isGiven = effects.length > 0 && (placing.place.kind === 'owner' || placing.place.kind === 'queue');
  const by = isGiven ? (placing.route ?? null) : null;
  const owner = placing.place.kind === 'owner' ? placing.place.rep : null;
  const deal = dealMade(charter, record, appraisal);
  const tasks = tasksMade(charter, record.kind, appraisal, by, owner, world);
  return {
    ...appraisal,
    place: placing.place,
    skipped: placing.skipped ?? [],
    turn: placing.turn ?? null,
    ...(placing.placedBy === undefined ? {} : { placedBy: placing.placedBy }),
    ...(placing.kept === undefined ? {} : { kept: placing.kept }),
    loads: loadsBetween(record.standing, appraisal.status, placing.place),
    ...(by === null ? {} : routeEffects(charter, record, appraisal, by)),
    ...(tasks.length === 0 ? {} : { tasks }),
    ...(deal === null ? {} : { deal }),
    effects,
  };
}

function placingOf(charter: ReadyCharter, record: MovingRecord, appraisal: Appraisal, world: World): Placing {
  // The owner who gave it back does not keep it, even where nobody else is free.
  const before = appraisal.occasion === 'given-back' ? null : record.standing.place;
  const verdict = appraisal.grade?.verdict ?? null;
  const notHandedOver: Placing = { place: { kind: 'not-handed-over', verdict } };

  if (appraisal.occasion === 'looked-at') return before === null ? notHandedOver : { place: before };
  const { routing, gates } = appraisal;
  if (before !== null && isGivenOn(appraisal, before)) return onward(before, charter, record, appraisal, world);
  // A right owner is not taken away.
  if (before?.kind === 'owner') return { place: before, ...(routing === null ? {} : { kept: true }) };
  if (appraisal.status !== 'open') return notHandedOver;
  // What is in a queue stays there until someone picks it up, or a new charter routes it.
  if (before?.kind === 'queue' && (routing === null || routing.stays === true))
    return { place: before, ...(routing === null ? {} : { kept: true }) };

  // It was only scored: it stays where it is, whatever waits to be judged.
  if (appraisal.handling !== undefined)
    return before === null
      ? notHandedOver
      : { place: before.kind === 'not-handed-over' ? { ...before, verdict } : before };

  const fields = unjudgedIn(appraisal);
  if (gates.loop.length > 0) return bay({ why: 'loop', gates: gates.loop });
  if (fields.length > 0) return bay({ why: 'unjudged', fields });
  const lastResort: Placing = { place: { kind: 'queue', queue: charter.charter.lastResort.lead }, lastResort: true };
  if (routing === null) {
    // No stream acts where it stands by now.
    if (appraisal.occasion === 'given-back') return lastResort;
    // A rescore moves nobody: what waits for someone free goes on waiting.
    const enacting = appraisal.occasion === 'enacted' || appraisal.occasion === 'regated';
    if (before?.kind === 'bay' && enacting) return { place: before };
    // A lead that a route gave to nobody stays so until it is routed again.
    return before?.kind === 'not-handed-over' && appraisal.stage === record.standing.stage
      ? { place: { ...before, verdict } }
      : notHandedOver;
  }
  switch (routing.match.kind) {
    case 'unjudged':
      return bay({ why: 'unjudged', fields: toMend(routing.match.fields, charter, appraisal) });
    case 'none':
      return lastResort;
    case 'matched':
      if (routing.match.later !== undefined)
        return bay({ why: 'scheduled', stream: routing.match.later, route: routing.match.route });
      return placingBy(carriedOut(charter, record, appraisal, routing.match, world), appraisal);
  }
}

/** Whether a record that has a place is given on, and stays where it is if nobody can be found. */
function isGivenOn({ occasion, routing, status }: Appraisal, { kind }: Place): boolean {
  if (status !== 'open') return false;
  if (OCCASION_RULES[occasion].byPerson) return true;
  const isRerouted = occasion === 'rerouted' || occasion === 'looked-at';
  return !isRerouted && (kind === 'owner' || kind === 'queue') && routing !== null && routing.stays !== true;
}

/** The next place of a record that is given on: it stays where it is where no route takes it, or nobody is free. */
function onward(
  before: Place,
  charter: ReadyCharter,
  record: MovingRecord,
  appraisal: Appraisal,
  world: World,
): Placing {
  const match = appraisal.routing?.match;
  if (match?.kind !== 'matched') return { place: before, kept: true };
  const carried = carriedOut(charter, record, appraisal, match, world);
  const { kind } = carried.place;
  // A route to nobody takes a lead that a person gives to it, but takes no owner away by itself.
  if (kind === 'bay' || (kind === 'nobody' && appraisal.occasion !== 'given'))
    return { place: before, skipped: carried.skipped, kept: true };
  const { placedBy = null } = record.standing;
  const byPerson = OCCASION_RULES[appraisal.occasion].byPerson;
  // Those before it had nobody free: the route that gave it away takes no turn for it once more.
  if (!byPerson && carried.route === placedBy && isWhereItLeads(match, placedBy, before, world))
    return { place: before, skipped: carried.skipped, kept: true };
  return placingBy(carried, appraisal);
}

function carriedOut(
  { rules }: ReadyCharter,
  { id, kind, standing: { givenBackBy = [] } }: MovingRecord,
  { asOf }: Appraisal,
  match: Matched,
  world: World,
): CarriedOut {
  return carryOut(
    attemptsOf(rules[kind].streams, match),
    { record: id, at: asOf, without: givenBackBy },
    world,
    world.rota,
  );
}

function placingBy({ place, route, skipped, turn, hopeless }: CarriedOut, { grade, routing }: Appraisal): Placing {
  const first = routing?.match.kind === 'matched' ? routing.match.route : null;
  const by = route === first ? {} : { placedBy: route };
  if (place.kind === 'nobody') {
    const { reason } = place;
    return { place: { kind: 'not-handed-over', verdict: grade?.verdict ?? null, reason }, skipped, turn, ...by };
  }
  return { place, skipped, turn, hopeless, route, ...by };
}

function effectsOf(before: Place | null, { place, lastResort, hopeless = false }: Placing): Effect[] {
  const isOther =
    (before?.kind === 'queue' && place.kind === 'queue' && before.queue !== place.queue) ||
    (before?.kind === 'owner' && place.kind === 'owner' && before.rep !== place.rep);
  const stays = before?.kind === place.kind && !isOther;
  if (stays) return [];
  switch (place.kind) {
    case 'owner':
      return [{ kind: 'tell-owner', rep: place.rep }];
    case 'queue':
      return lastResort
        ? [{ kind: 'tell-operations', of: 'last-resort' }]
        : [{ kind: 'tell-queue', queue: place.queue }];
    case 'bay':
      // It leaves when its stream runs: nobody has to act.
      if (place.reason.why === 'scheduled') return [];
      return [{ kind: 'tell-operations', of: hopeless ? 'nobody-has-skill' : 'bay' }];
    case 'not-handed-over':
      return [];
  }
}

/** The fields that a person can put right: a territory that can't be told comes from a part of the address. */
function toMend(
  fields: readonly string[],
  { charter: { territories } }: ReadyCharter,
  { territory }: Pick<Appraisal, 'territory'>,
): string[] {
  const part = territory.found === 'unjudged' ? territory.part : undefined;
  const of = { region: territories.regionField, postalCode: territories.postalField };
  const from = (part === undefined ? null : of[part]) ?? territories.field;
  return [...new Set(fields.map((field) => (field === 'territory' ? from : field)))];
}

/** Fields that keep the record without a grade, or a gate of its stage without an answer. */
function unjudgedIn(appraisal: Appraisal): string[] {
  const { fit, engagement } = appraisal.score;
  const fields = new Set<string>();
  for (const axis of [fit, engagement]) if (!axis.judged) for (const field of axis.fields) fields.add(field);
  // Without a grade, gates that read it are unjudged for the same reason.
  if (fields.size === 0) for (const field of appraisal.gates.unjudged) fields.add(field);
  return [...fields];
}

/**
 * By how many the open leads of each rep change: a rep carries the open leads they own.
 *
 * A record that was never decided is on nobody's load yet, even when it comes in with an owner.
 */
export function loadsBetween(
  standing: Pick<Standing, 'stage' | 'status' | 'place'>,
  status: Status,
  place: Place,
): Decision['loads'] {
  const was = standing.stage === null ? null : carrierOf(standing.status, standing.place);
  const is = carrierOf(status, place);
  if (was === is) return [];
  return [
    ...(was === null ? [] : [{ rep: was, by: -1 as const }]),
    ...(is === null ? [] : [{ rep: is, by: 1 as const }]),
  ];
}

function carrierOf(status: Status, place: Place | null): RepKey | null {
  return status === 'open' && place?.kind === 'owner' ? place.rep : null;
}
