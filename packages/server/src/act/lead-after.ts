import {
  type Decision,
  enteredAt,
  isByHand,
  type Occasion,
  pipelineOfStage,
  type Place,
  type RouteKey,
} from '@relvik/core';
import { identityOf } from '../store/identity';
import { openForOf } from '../store/open-for';
import type { TieRules } from '../store/tie-rules';
import type { LeadEntity } from '../store/entity/lead.entity';
import type { Governing } from '../store/governing';
import { scoredColumns } from '../store/entity/scored.entity';
import { placeOf } from '../store/load-leads';
import type { Act } from './act';
import { wayOf } from './cause';

/** Occasions on which something happens with the lead itself. */
export const TOUCHING: readonly Occasion[] = ['created', 'joined', 'edited', 'activity', 'moved', 'accepted', 'given'];

/** Whether two places are the same, with all that is said of them. */
export function samePlace(a: Place, b: Place): boolean {
  return JSON.stringify(a) === JSON.stringify(b);
}

/** The columns that tie a lead to its contact and company. */
function whoseColumns(
  { record, ties }: Act,
  rules: TieRules,
): Pick<LeadEntity, 'name' | 'company' | 'email' | 'contact' | 'companyId'> {
  return { ...identityOf(record, rules), contact: ties.contact, companyId: ties.company };
}

function placeColumns(
  place: Place,
): Pick<LeadEntity, 'place' | 'owner' | 'queue' | 'bay' | 'bayTeam' | 'waitsFor' | 'nobodyBecause'> {
  const nowhere = {
    ...{ place: place.kind, owner: null, queue: null, bay: null, bayTeam: null, waitsFor: null },
    nobodyBecause: null,
  };
  switch (place.kind) {
    case 'owner':
      return { ...nowhere, owner: place.rep };
    case 'queue':
      return { ...nowhere, queue: place.queue };
    case 'bay': {
      const { reason } = place;
      if (reason.why !== 'nobody-free') return { ...nowhere, bay: reason };
      const waitsFor = reason.also === undefined ? 'route' : 'routes';
      return { ...nowhere, bay: reason, bayTeam: reason.team, waitsFor };
    }
    case 'not-handed-over':
      return { ...nowhere, nobodyBecause: place.reason ?? null };
  }
}

/** The gate that closed it, or what the person said who did. */
function closedBecause({ change }: Act, { gates }: Decision): string | null {
  const person = change.kind === 'decide' ? change.person : null;
  const said = gates.moves.length === 1 && person !== null && person.kind !== 'gives' ? person.reason : null;
  const gate = gates.moves.at(-1)?.gate ?? null;
  return said ?? (gate === null ? null : `Gate ${gate}`);
}

/**
 * The lead as it is stored after a decision.
 *
 * @param changesAt when anything that is asked of it changes by itself; null: it is closed
 */
export function leadAfter(
  act: Act,
  decision: Decision,
  changesAt: Date | null,
  { number: charter, ties: rules, ready }: Pick<Governing, 'number' | 'ties' | 'ready'>,
): LeadEntity {
  const { record, stored, test, asOf, cause } = act;
  const moved = stored === null || !samePlace(placeOf(stored), decision.place);
  const closes = record.standing.status === 'open' && decision.status !== 'open';
  const named = whoseColumns(act, rules);
  return {
    id: Number(record.id),
    version: (stored?.version ?? 0) + 1,
    ...named,
    // A test stands apart from the leads that are known.
    openFor:
      decision.status === 'open' && !(stored?.test ?? test)
        ? openForOf({ ...act.ties, ...named, company: act.ties.company })
        : null,
    status: decision.status,
    stage: decision.stage,
    pipeline: pipelineOfStage(ready.charter, decision.stage)?.key ?? '',
    cameInto: record.standing.cameInto,
    stageSince: new Date(enteredAt(record, decision.gates.moves.length > 0, asOf.getTime())),
    ...placeColumns(decision.place),
    since: moved ? asOf : stored.since,
    ...scoredColumns(decision),
    territory: 'territory' in decision.territory ? decision.territory.territory : null,
    pin: record.standing.pin,
    route: placingRoute(decision, stored),
    pickedFrom: moved ? null : stored.pickedFrom,
    deputyFor: moved ? null : stored.deputyFor,
    acceptance: moved ? acceptanceOf(decision, ready) : stored.acceptance,
    givenBackBy: record.standing.givenBackBy ?? null,
    openDeals: stored?.openDeals ?? 0,
    looks: Object.fromEntries(decision.gates.looks),
    arrived: new Date(record.arrived),
    touchedAt: stored === null || TOUCHING.includes(decision.occasion) ? asOf : stored.touchedAt,
    way: stored?.way ?? wayOf(cause),
    test: stored?.test ?? test,
    charter,
    decidedAt: asOf,
    changesAt,
    closedAt: closes ? asOf : (stored?.closedAt ?? null),
    closeReason: closes ? closedBecause(act, decision) : (stored?.closeReason ?? null),
  };
}

/** Whether an owner is asked to accept what a decision gave them. */
function acceptanceOf(decision: Decision, { rules }: Governing['ready']): LeadEntity['acceptance'] {
  const route = decision.place.kind === 'owner' ? placingRoute(decision, null) : null;
  const stream = rules.lead.streams.find(({ routes }) => routes.some(({ key }) => key === route));
  return stream?.accept === true ? 'asked' : null;
}

/** The route that gave a lead its place; of a team to which someone gave it, none. */
function placingRoute({ kept, placedBy, routing }: Decision, stored: LeadEntity | null): RouteKey | null {
  const match = routing?.match;
  if (kept === true || match?.kind !== 'matched') return (stored?.route ?? null) as RouteKey | null;
  const route = placedBy ?? match.route;
  return isByHand(route) ? null : route;
}

/** A closed lead whose values were changed: nothing is decided. */
export function leadKept(stored: LeadEntity, act: Act, { ties: rules }: Pick<Governing, 'ties'>): LeadEntity {
  return { ...stored, ...whoseColumns(act, rules), version: stored.version + 1 };
}

/** The lead as it is stored after a hand moved or closed it, or opened it again. */
export function leadMoved(
  stored: LeadEntity,
  { place, closing, reopens, from, deputyFor }: Extract<Act['change'], { kind: 'move' }>,
  asOf: Date,
  { ready }: Pick<Governing, 'ready'>,
): LeadEntity {
  return {
    ...stored,
    version: stored.version + 1,
    ...placeColumns(place),
    // Placed by hand: no route placed it.
    route: closing === null ? null : stored.route,
    pickedFrom: closing === null ? from : stored.pickedFrom,
    deputyFor: closing === null ? deputyFor : stored.deputyFor,
    // A person's judgement begins anew; a deputy takes it over as it is.
    ...(closing === null && deputyFor === null && stored.deputyFor === null
      ? { acceptance: null, givenBackBy: null }
      : { acceptance: stored.acceptance, givenBackBy: stored.givenBackBy }),
    since: asOf,
    touchedAt: asOf,
    ...(closing === null
      ? {}
      : { status: closing.outcome, closedAt: asOf, closeReason: closing.reason, openFor: null, changesAt: null }),
    ...(reopens === undefined ? {} : openAgain(stored, reopens.stage, asOf, ready)),
  };
}

/** The columns of a lead that is open again: it is decided a moment later. */
function openAgain(
  stored: LeadEntity,
  stage: string,
  asOf: Date,
  { charter }: Governing['ready'],
): Partial<LeadEntity> {
  return {
    ...{ status: 'open', closedAt: null, closeReason: null, changesAt: asOf, stage },
    pipeline: pipelineOfStage(charter, stage)?.key ?? stored.pipeline,
    stageSince: stage === stored.stage ? stored.stageSince : asOf,
    openFor: stored.test ? null : openForOf({ ...stored, company: stored.companyId }),
  };
}
