import {
  advance,
  appraise,
  type Appraisal,
  changesAt,
  type Decision,
  exclusionOf,
  loadsBetween,
  type RepKey,
  type Rota,
  type RouteKey,
  settle,
  type World,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { type Governing, readGoverning } from '../store/governing';
import { meanwhile } from '../store/rows';
import { lockRota, writeRota } from '../store/rota';
import type { Act } from './act';
import { leadAfter, leadMoved } from './lead-after';
import { PassedOver, waitersBefore } from './waiters';
import { type Outcome, write, writeValues } from './write';

/** An act with what can be said of it before turns and loads are locked. */
interface Prepared {
  readonly act: Act;
  /** Null where a hand moves the record. */
  readonly appraisal: Appraisal | null;
}

/** A transaction in which acts are performed. */
export interface Acting {
  readonly manager: EntityManager;
  /** Set when someone carries fewer open leads than before, so that who waits in the bay may leave it. */
  frees: boolean;
}

type Matched = Extract<NonNullable<Appraisal['routing']>['match'], { kind: 'matched' }>;

function matchOf({ appraisal }: Prepared): Matched | null {
  const match = appraisal?.routing?.match;
  return match?.kind === 'matched' ? match : null;
}

/** The reps to whom a matched route may lead. */
function candidates({ to }: Matched, world: Omit<World, 'rota'>): readonly RepKey[] {
  switch (to.kind) {
    case 'rep':
      return [to.rep];
    case 'team':
      return world.teams.get(to.team)?.members ?? [];
    case 'queue':
      return [];
  }
}

/** Reps whose load may change: candidates of the matched route, the current owner, the new owner of a move. */
function repsOf(prepared: Prepared, world: Omit<World, 'rota'>): RepKey[] {
  const { record, change } = prepared.act;
  const reps: RepKey[] = [];
  const place = change.kind === 'move' ? change.place : record.place;
  if (record.place?.kind === 'owner') reps.push(record.place.rep);
  if (place?.kind === 'owner') reps.push(place.rep);
  const match = matchOf(prepared);
  if (match !== null) reps.push(...candidates(match, world));
  return reps;
}

function turnsOf(prepared: Prepared): RouteKey[] {
  const match = matchOf(prepared);
  return match?.to.kind === 'team' ? [match.route] : [];
}

/**
 * The one writer: performs what happens to records, and writes all that follows, inside the caller's transaction. The records
 * must be locked already.
 *
 * Scores, grades and routes are found without locks on turns; then the turns of the matched routes and the loads of those
 * concerned are locked in key order, and the records placed one by one in order of acceptance. Leads that wait in the
 * bay for the same route go first.
 *
 * @returns what came of each, in the order given
 */
export async function perform(acting: Acting, acts: readonly Act[], governing?: Governing): Promise<Outcome[]> {
  if (acts.length === 0) return [];
  const { manager } = acting;
  const { number, ready, world } = governing ?? (await readGoverning(manager, 'share'));
  const prepare = (act: Act): Prepared => ({
    act,
    appraisal:
      act.change.kind === 'move' ? null : appraise(ready, act.record, world, act.change.occasion, act.asOf.getTime()),
  });
  const incoming = await meanwhile(writeValues(manager, acts), () => acts.map(prepare));
  const matches = incoming.flatMap((one) => (isFreed(one) ? [] : (matchOf(one) ?? [])));
  const isFree = (match: Matched, loads: Rota['loads']): boolean =>
    candidates(match, world).some((rep) => exclusionOf(world.reps.get(rep), loads) === null);
  const waiters = await waitersBefore(manager, matches, isFree, acts);
  const all = [...waiters.acts.map(prepare), ...incoming];
  const rota = await lockRota(
    manager,
    all.flatMap(turnsOf),
    all.flatMap((one) => repsOf(one, world)),
  );
  // Someone became free since the bay was looked at: begin again, so that nobody passes those who wait.
  if (waiters.left.some((match) => isFree(match, rota.loads))) throw new PassedOver();

  const outcomes: Outcome[] = [];
  const turns = new Set<RouteKey>();
  const reps = new Set<RepKey>();
  for (const { act, appraisal } of all) {
    const decision = appraisal === null ? null : settle(ready, act.record, appraisal, { ...world, rota });
    const moved: Pick<Decision, 'turn' | 'loads'> = decision ?? { turn: null, loads: loadsOfMove(act) };
    advance(rota, moved);
    if (moved.turn?.after) turns.add(moved.turn.route);
    for (const { rep, by } of moved.loads) {
      reps.add(rep);
      if (by < 0) acting.frees = true;
    }
    outcomes.push({ act, decision, after: afterOf(act, decision) });
  }
  await write(manager, outcomes, number);
  await writeRota(manager, rota, turns, reps);
  return outcomes.slice(waiters.acts.length);

  function afterOf(act: Act, decision: Decision | null): Outcome['after'] {
    const { record, asOf, stored, change } = act;
    if (decision === null) {
      if (change.kind !== 'move' || stored === null) throw new Error('Only a stored lead can be moved by hand');
      return leadMoved(stored, change, asOf);
    }
    const next = decision.status === 'open' ? new Date(changesAt(ready, record, world.rates, asOf.getTime())) : null;
    return leadAfter(act, decision, next, number);
  }
}

function isFreed({ appraisal }: Prepared): boolean {
  return appraisal?.occasion === 'freed';
}

function loadsOfMove({ record, change }: Act): Decision['loads'] {
  return change.kind === 'move' ? loadsBetween(record, change.closing?.outcome ?? 'open', change.place) : [];
}
