import { entryOf, standingStage } from '../gate/pipeline';
import { statusIn } from '../gate/stage';
import type { ReadyCharter, ReadyRules } from '../charter/ready-charter';
import type { Appraisal, Decision, Warning } from './decision';
import { addressOf, type TerritoryAnswer, territoryOf } from '../territory/coverage';
import type { Facts } from '../condition/facts';
import { gradeRecord } from './grade-record';
import { type GateRun, passGates, type PersonMove } from '../gate/pass-gates';
import { noteGiven, type Organisation, type Rota } from '../people/people';
import type { Instant, StageKey } from '../record/keys';
import type { Handling } from '../record/handling';
import { isOpen, type MovingRecord, type RecordFacts, type Standing, type Status } from '../record/record';
import { asksAgain, type Trigger, leadsElsewhere } from '../route/again';
import { type Giving, routingByHand } from '../route/by-hand';
import type { Occasion } from '../record/occasion';
import { matchRoute, routesOnEntering, type Routing } from '../route/match-route';
import { OCCASION_RULES } from './occasion-rules';
import { settle } from './settle';
import type { World } from '../people/world';

/** An act of a person on a record: a move to another stage, or giving it away. */
export type PersonAct = PersonMove | Giving;

/**
 * The way of one lead: score → grade → gates → territory → route → owner, queue, bay or not handed over.
 *
 * The same charter, record, world and `asOf` give the same Decision. Nothing is changed: {@link advance} carries the new
 * turns and loads into a rota.
 *
 * @param asOf the instant of the decision; activities after it are not counted
 * @param person what a person does with it, on the occasions `moved`, `accepted` and `given`
 */
export function decide(
  charter: ReadyCharter,
  record: MovingRecord,
  world: World,
  occasion: Occasion,
  asOf: Instant,
  person: PersonAct | null = null,
): Decision {
  return settle(charter, record, appraise(charter, record, world, occasion, asOf, person), world);
}

/**
 * The part of a decision that needs neither turns nor loads, so that it can be computed before they are locked.
 *
 * @param handling other than `decide`: gates and routes are not asked
 */
export function appraise(
  charter: ReadyCharter,
  record: MovingRecord,
  world: Omit<World, 'rota'>,
  occasion: Occasion,
  asOf: Instant,
  person: PersonAct | null = null,
  handling: Handling = 'decide',
): Appraisal {
  const rules = charter.rules[record.kind];
  const { standing } = record;
  const stood = standing.stage === null ? null : standingStage(rules.stages, standing.stage);
  const { score, rank, grade, facts: graded } = gradeRecord(charter, record, world, asOf);
  const run = handling === 'decide' ? gateRunOn(record, occasion) : 'no';
  const gates = passGates(
    rules.gates,
    {
      stage: stood,
      entry: entryOf(charter.charter, record.kind, standing.cameInto),
      looks: standing.looks,
      person: person?.kind === 'gives' ? null : person,
    },
    (stage, moved, changes) => graded.withChanges(changes).withStage(stage, moved),
    run,
  );

  const territory = territoryOf(
    charter.coverage,
    standing.pin,
    addressOf(charter.charter.territories, (field) => graded.value(field)),
  );

  const { stage } = gates;
  const status = statusAfter(rules, standing, stood, stage);
  const facts = graded
    .withChanges(gates.changes)
    .withStage(stage, gates.moves.length > 0)
    .withTerritory(territory);
  // Whom no set admits has no grade, but all is known of it: it may go on.
  const judged = (grade !== null || score.admitted === 'no') && gates.loop.length === 0 && gates.unjudged.length === 0;
  const asked = occasion === 'looked-at' && routesOnEntering(rules.streams, stage);
  const trigger = triggerOf(standing, stood, stage, territory, occasion);
  const routed =
    asked ||
    ((run !== 'no' || OCCASION_RULES[occasion].routedWithoutGates) &&
      judged &&
      status === 'open' &&
      isToBeRouted(rules, standing, stage, trigger));

  return {
    record: record.id,
    asOf,
    occasion,
    score,
    rank,
    grade,
    gates,
    stage,
    status,
    territory,
    routing:
      person?.kind === 'gives'
        ? routingByHand(
            rules.streams.flatMap(({ routes }) => routes),
            person.to,
            facts,
          )
        : routed
          ? routingFor(rules, record, stage, facts, trigger, world)
          : null,
    warnings: warningsOf(record),
    ...(handling === 'decide' ? {} : { handling }),
  };
}

function gateRunOn({ standing }: MovingRecord, occasion: Occasion): GateRun {
  return isOpen(standing) ? OCCASION_RULES[occasion].gates : 'no';
}

function statusAfter({ stages }: ReadyRules, standing: Standing, stood: StageKey | null, stage: StageKey): Status {
  const entered = stages.find((s) => s.key === stage);
  return isOpen(standing) && stood !== stage && entered !== undefined ? statusIn(entered) : standing.status;
}

/** The event that may send a record through its stream again. */
export function triggerOf(
  standing: Standing,
  stood: StageKey | null,
  stage: StageKey,
  territory: TerritoryAnswer,
  occasion: Occasion,
): Trigger {
  const is = 'territory' in territory ? territory.territory : null;
  return {
    occasion,
    entered: stood !== stage,
    territoryChanged: standing.territory !== undefined && standing.territory !== is,
  };
}

/**
 * Routes act on entering a stage that a stream names, and again for what waits in the bay there. They act on what has an owner
 * or queue only where a person hands it on, or where a route gave it away and its stream asks again. When a charter that is to
 * route comes into force, they act on all that stands there without an owner.
 */
function isToBeRouted(
  { streams }: ReadyRules,
  { place, placedBy }: Standing,
  stage: StageKey,
  trigger: Trigger,
): boolean {
  if (!routesOnEntering(streams, stage)) return false;
  const { occasion, entered } = trigger;
  if (OCCASION_RULES[occasion].byWord) return true;
  const again = (placedBy ?? null) !== null && streams.some((stream) => asksAgain(stream, stage, trigger));
  if (place?.kind === 'owner') return again;
  switch (occasion) {
    case 'regated':
      return false;
    case 'rerouted':
      return true;
    case 'scheduled':
      return place?.kind === 'queue' ? again : true;
    default:
      return place?.kind === 'queue' ? again : entered || place?.kind === 'bay';
  }
}

/** The routes that match a record; what a route gave away stays where it is unless they lead elsewhere. */
function routingFor(
  { streams }: ReadyRules,
  { standing: { place, placedBy = null } }: MovingRecord,
  stage: StageKey,
  facts: Facts,
  trigger: Trigger,
  people: Organisation,
): Routing {
  const { byWord, fromTheStart } = OCCASION_RULES[trigger.occasion];
  const routing = matchRoute(streams, stage, facts, byWord);
  if (fromTheStart) return routing;
  if (place?.kind !== 'owner' && place?.kind !== 'queue') return routing;
  const elsewhere = leadsElsewhere(streams, routing.match, { stage, place, placedBy }, trigger, people);
  return elsewhere ? routing : { ...routing, stays: true };
}

/** The values of a record that can't be read, in the order of their fields. */
export function warningsOf(record: Pick<RecordFacts, 'values'>): Warning[] {
  return [...record.values]
    .flatMap(([field, value]) => (value.kind === 'unreadable' ? [{ field, raw: value.raw, why: value.why }] : []))
    .sort((a, b) => (a.field < b.field ? -1 : 1));
}

/** Carries a decision's turns, loads and who got a lead into a rota, so that the next decision sees them. */
export function advance(rota: Rota, decision: Pick<Decision, 'turn' | 'loads' | 'asOf'>): void {
  if (decision.turn?.after) rota.turns.set(decision.turn.route, decision.turn.after);
  for (const { rep, by } of decision.loads) {
    rota.loads.set(rep, (rota.loads.get(rep) ?? 0) + by);
    if (by > 0) noteGiven(rota, rep, decision.asOf);
  }
}
