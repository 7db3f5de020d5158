import type { Give, Given } from '@relvik/contracts';
import {
  attemptBy,
  candidatesFor,
  copyRota,
  type Decision,
  decideInTurn,
  type Effect,
  exclusionWords,
  type GivenTo,
  namesOf,
  type Place,
  type QueueKey,
  type Route,
  type RepKey,
  type RouteKey,
  type TeamKey,
  type World,
} from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { ownerRefusal, rightsOn, sees } from '../session/rights';
import { type Sight, sightOf } from '../session/sight';
import { PersonEntity } from '../store/entity/people.entity';
import { type Governing, readGoverning } from '../store/governing';
import { loadLeads, placeOf, type StoredLead, withTiedValues } from '../store/load-leads';
import { peekRota } from '../store/rota';
import { again, given, moved } from './act';
import { handOf } from './cause';
import { eachOf, refusalWords } from './each-of';
import { byHand, type Hand } from './hand';
import { perform } from './perform';

/** The step for each lead: place it, or let rules choose its place. */
type Step =
  | { readonly kind: 'place'; readonly place: Extract<Place, { kind: 'owner' | 'queue' }>; readonly effect: Effect }
  | { readonly kind: 'given'; readonly to: GivenTo }
  | { readonly kind: 'again' };

/**
 * Gives leads by hand to a person, queue, team or route, or lets all routes choose again; each by itself. A lead stays where it is
 * where nobody is free.
 *
 * @throws Refused where the user may not give leads there
 */
export async function giveLeads(source: DataSource, give: Give, hand: Hand): Promise<Given> {
  const governing = await readGoverning(source.manager, 'none');
  const step = await stepOf(source.manager, give, await sightOf(source.manager, hand.user), governing);
  const places: Place[] = [];
  const each = await eachOf(give.ids, async (id) => {
    places.push(await giveLead(source, id, step, hand));
  });
  return { ...each, places: counted(places) };
}

async function giveLead(source: DataSource, id: number, step: Step, hand: Hand): Promise<Place> {
  return byHand(source, id, 'assign', hand, async (acting, { lead }) => {
    const cause = handOf(hand.user);
    if (step.kind === 'place') {
      const { place, effect } = step;
      if (!isSame(placeOf(lead.entity), place))
        await perform(acting, [moved(lead, { place, effects: [effect] }, cause, hand.at)]);
      return place;
    }
    const governing = await readGoverning(acting.manager, 'share');
    const act = step.kind === 'given' ? given(lead, step.to, cause, hand.at) : again(lead, 'handed-on', cause, hand.at);
    const [outcome] = await perform(acting, [act], governing);
    const decision = outcome?.decision;
    if (outcome === undefined || !decision) throw Refused.as('lead-closed');
    const refusal = refusalOf(decision, governing);
    if (refusal !== null) throw refusal;
    return placeOf(outcome.after);
  });
}

/** Predicts {@link giveLeads} on the turns and loads of this moment. Nothing is changed. */
export async function previewGive({ manager }: DataSource, give: Give, { user, at }: Hand): Promise<Given> {
  const governing = await readGoverning(manager, 'none');
  const sight = await sightOf(manager, user);
  const step = await stepOf(manager, give, sight, governing);
  const { tied } = governing.ready.rules.lead;
  const loaded = await withTiedValues(manager, await loadLeads(manager, give.ids, 'none'), tied);
  const leads = new Map(loaded.map((lead) => [lead.entity.id, lead]));
  const refused: { id: number; why: string }[] = [];
  const mine: StoredLead[] = [];
  for (const id of new Set(give.ids)) {
    const lead = leads.get(id);
    if (lead === undefined || !sees(lead.entity, sight)) refused.push({ id, why: 'There is nothing here' });
    else if (lead.entity.status !== 'open') refused.push({ id, why: 'The lead is closed' });
    else if (!rightsOn(lead.entity, sight, user).assign) refused.push({ id, why: 'Your role does not allow this' });
    else mine.push(lead);
  }
  const done: number[] = [];
  const places: Place[] = [];
  if (step.kind === 'place') {
    for (const { entity } of mine) done.push(entity.id);
    places.push(...mine.map(() => step.place));
    return { done, refused, places: counted(places) };
  }
  const world: World = { ...governing.world, rota: copyRota(await peekRota(manager)) };
  const decisions = decideInTurn(
    governing.ready,
    mine.map(({ record }) => record),
    world,
    at.getTime(),
    step.kind === 'given' ? 'given' : 'handed-on',
    step.kind === 'given' ? { kind: 'gives', to: step.to } : null,
  );
  decisions.forEach((decision, i) => {
    const id = mine[i]?.entity.id ?? 0;
    const refusal = refusalOf(decision, governing);
    if (refusal !== null) {
      refused.push({ id, why: refusalWords(refusal) });
      return;
    }
    done.push(id);
    places.push(decision.place);
  });
  return { done, refused, places: counted(places) };
}

/** @throws Refused naming the key, where it is none, or leads outside the user’s teams */
async function stepOf(
  manager: EntityManager,
  { to, key, method = 'round-robin' }: Give,
  sight: Sight,
  { ready, world }: Governing,
): Promise<Step> {
  const refuse = (message: string): Refused => Refused.invalid([{ path: '/key', message }]);
  const name = key ?? '';
  switch (to) {
    case 'again':
      return { kind: 'again' };
    case 'rep': {
      const person = (await manager.findOneBy(PersonEntity, { key: name, retired: false })) ?? undefined;
      const refusal = ownerRefusal(person, sight);
      if (refusal !== null) throw refuse(refusal);
      const rep = name as RepKey;
      return { kind: 'place', place: { kind: 'owner', rep }, effect: { kind: 'tell-owner', rep } };
    }
    case 'queue': {
      const queue = name as QueueKey;
      if (!world.queues.has(queue)) throw refuse('is no queue');
      if (!sight.all && !sight.queues.includes(queue)) throw refuse('is not a queue of yours');
      return { kind: 'place', place: { kind: 'queue', queue }, effect: { kind: 'tell-queue', queue } };
    }
    case 'team': {
      const team = name as TeamKey;
      if (!world.teams.has(team)) throw refuse('is no team');
      if (!sight.all && !sight.leads.includes(team)) throw refuse('is not in your teams');
      return { kind: 'given', to: { kind: 'team', team, method } };
    }
    case 'route': {
      const route = name as RouteKey;
      const attempt = attemptBy(ready.rules.lead.streams, route);
      if (attempt === null) throw refuse('is no route of the charter in force');
      const isMine = (rep: RepKey): boolean => sight.all || sight.owners.includes(rep);
      if (!sight.all && (leadsToQueue(attempt.route) || !candidatesFor(attempt, world).every(isMine)))
        throw refuse('leads outside your teams');
      return { kind: 'given', to: { kind: 'route', route } };
    }
  }
}

function leadsToQueue({ to }: Pick<Route, 'to'>): boolean {
  return to.kind === 'queue' || to.kind === 'handed-on';
}

/** Why rules found no other place; null: they did. */
function refusalOf({ kept, routing, skipped }: Decision, { ready, world }: Governing): Refused | null {
  const names = namesOf(ready.charter, world);
  if (routing === null) return Refused.as('no-route', { detail: 'No stream acts on its stage.' });
  if (kept !== true) return null;
  const { match } = routing;
  switch (match.kind) {
    case 'none':
      return Refused.as('no-route', { detail: 'It would go to the last resort.' });
    case 'unjudged':
      return Refused.as('no-route', {
        detail: `Can’t be judged: ${match.fields.map((field) => names.field(field)).join(', ')}.`,
      });
    case 'matched': {
      if (match.to.kind === 'nobody')
        return Refused.as('no-route', { detail: `It leads to nobody: ${match.to.reason}.` });
      // People who never take leads, such as the manager of a team, say nothing unless they are all there is.
      const takers = skipped.filter(({ exclusion }) => exclusion.why !== 'may-not-take-leads');
      const why = (takers.length === 0 ? skipped : takers).map(
        ({ rep, exclusion }) => `${names.rep(rep)} ${exclusionWords(exclusion, names)}`,
      );
      return Refused.as('nobody-free', { detail: `${why.length === 0 ? 'Nobody belongs to it' : why.join('; ')}.` });
    }
  }
}

function isSame(a: Place, b: Place): boolean {
  return (
    (a.kind === 'owner' && b.kind === 'owner' && a.rep === b.rep) ||
    (a.kind === 'queue' && b.kind === 'queue' && a.queue === b.queue)
  );
}

/** Each place once with its number of leads, most first. */
export function counted(places: readonly Place[]): Given['places'] {
  const counts = new Map<string, { readonly place: Place; leads: number }>();
  for (const place of places) {
    const key = JSON.stringify(place);
    const known = counts.get(key);
    if (known === undefined) counts.set(key, { place, leads: 1 });
    else known.leads += 1;
  }
  return [...counts.values()].sort((a, b) => b.leads - a.leads);
}
