import {
  advance,
  appraise,
  type Appraisal,
  changesAt,
  type Decision,
  type LeadRecord,
  loadsBetween,
  type Occasion,
  type RepKey,
  type RouteKey,
  settle,
  type Value,
  type World,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { type Governing, readGoverning } from '../store/governing';
import { lockRota, writeRota } from '../store/rota';
import type { LeadEntity } from '../store/entity/lead.entity';
import { writeDecisions } from './write-decisions';

/** A lead to be decided, in order of acceptance. */
export interface Case {
  readonly record: LeadRecord;
  /** As it is stored; null for a lead that just came in. */
  readonly stored: LeadEntity | null;
  readonly arrival: { readonly way: LeadEntity['way'] } | null;
  readonly occasion: Occasion;
  readonly asOf: Date;
  /** Who or what caused it, for the history. */
  readonly by: string;
  /** Field values that changed, with what they were: written with the decision. */
  readonly values: ReadonlyMap<string, Value>;
  readonly valuesBefore: ReadonlyMap<string, Value>;
}

/** Members of a matched team, a matched rep, and whoever carries the lead: their loads may change. */
function repsOf({ record }: Case, appraisal: Appraisal, world: Omit<World, 'rota'>): RepKey[] {
  const reps: RepKey[] = [];
  if (record.place?.kind === 'owner' && loadsBetween(record, appraisal.status, record.place).length > 0)
    reps.push(record.place.rep);
  const match = appraisal.routing?.match;
  if (match?.kind === 'matched') {
    if (match.to.kind === 'rep') reps.push(match.to.rep);
    if (match.to.kind === 'team') reps.push(...(world.teams.get(match.to.team)?.members ?? []));
  }
  return reps;
}

function turnOf(appraisal: Appraisal): RouteKey[] {
  const match = appraisal.routing?.match;
  return match?.kind === 'matched' && match.to.kind === 'team' ? [match.route] : [];
}

/**
 * Decides leads and writes all that follows, inside the caller's transaction.
 *
 * Scores, grades and routes are found without locks on turns; then the turns of the matched routes and the loads of those
 * concerned are locked in key order, and the leads placed one by one in order of acceptance. The leads themselves must be
 * locked already.
 */
export async function decideLeads(
  manager: EntityManager,
  cases: readonly Case[],
  governing?: Governing,
): Promise<Decision[]> {
  if (cases.length === 0) return [];
  const { number, ready, world } = governing ?? (await readGoverning(manager, 'share'));
  const appraisals = cases.map(({ record, occasion, asOf }) =>
    appraise(ready, record, world, occasion, asOf.getTime()),
  );

  const routes = appraisals.flatMap(turnOf);
  const reps = cases.flatMap((one, i) => repsOf(one, appraisals[i] as Appraisal, world));
  const rota = await lockRota(manager, routes, reps);

  const decisions = cases.map(({ record }, i) => {
    const decision = settle(ready, record, appraisals[i] as Appraisal, { ...world, rota });
    advance(rota, decision);
    return decision;
  });
  const turns = cases.map(({ record, asOf }, i) =>
    decisions[i]?.status === 'open' ? new Date(changesAt(ready, record, world.rates, asOf.getTime())) : null,
  );
  await writeDecisions(manager, cases, decisions, turns, number);
  await writeRota(
    manager,
    rota,
    decisions.flatMap((d) => (d.turn?.after ? [d.turn.route] : [])),
    decisions.flatMap((d) => d.loads.map((load) => load.rep)),
  );
  return decisions;
}
