import {
  advance,
  appraise,
  type Appraisal,
  type Attempt,
  attemptsOf,
  candidatesFor,
  changesAt,
  type Decision,
  isAnyoneFree,
  type GradedBefore,
  loadsBetween,
  type RepKey,
  type Rota,
  type RouteKey,
  routesThatGoOn,
  settle,
  turnsFor,
  recipientsOfVerdict,
  type World,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { type Governing, readGoverning } from '../store/governing';
import { meanwhile } from '../store/rows';
import { tiedValues } from '../store/tied-values';
import { lockRota, writeRota } from '../store/rota';
import { readSeen } from '../store/seen';
import type { Act } from './act';
import { leadAfter, leadKept, leadMoved } from './lead-after';
import { makeDeals } from './make-deals';
import { settleTies } from './settle-ties';
import { writeProposals } from './proposals';
import { keepOutOfTaken } from './taken-pipelines';
import { PassedOver, waitersBefore } from './waiters';
import { type Outcome, write, writeGateChanges, writeValues } from './write';

/** An act with what can be said of it before turns and loads are locked. */
interface Prepared {
  readonly act: Act;
  /** The charter that decides it. */
  readonly charter: Governing;
  /** Null where no rule is asked. */
  readonly appraisal: Appraisal | null;
  /** The routes that are tried for it, in order; none where no route matched. */
  readonly attempts: readonly Attempt[];
}

/** A transaction in which acts are performed. */
export interface Acting {
  readonly manager: EntityManager;
  /** Set when someone carries fewer open leads than before, so that who waits in the bay may leave it. */
  frees: boolean;
}

function attemptsFor({ kind }: Act['record'], { ready }: Governing, appraisal: Appraisal | null): readonly Attempt[] {
  const { match, stays = false } = appraisal?.routing ?? {};
  return match?.kind === 'matched' && !stays && match.later === undefined
    ? attemptsOf(ready.rules[kind].streams, match)
    : [];
}

/** Reps whose load may change: candidates of the matched routes, the current owner, the new owner of a move. */
function repsOf(prepared: Prepared, world: Omit<World, 'rota'>): RepKey[] {
  const { record, change } = prepared.act;
  const before = record.standing.place;
  const place = change.kind === 'move' ? change.place : before;
  return [
    ...(before?.kind === 'owner' ? [before.rep] : []),
    ...(place?.kind === 'owner' ? [place.rep] : []),
    ...prepared.attempts.flatMap((attempt) => candidatesFor(attempt, world)),
  ];
}

/**
 * The one writer: performs what happens to records, and writes all that follows, inside the caller's transaction. The records
 * must be locked already.
 *
 * Scores, grades and routes are found without locks on turns; then the turns of the matched routes and the loads of those
 * concerned are locked in key order, and the records placed one by one in order of acceptance. Leads that wait in the
 * bay for the same route go first.
 *
 * @param governing the charter in force; null: it is read
 * @param by the charter that decides these acts, where it is another: a past one, or that in force during a run; leads that wait go by the one in force
 * @returns what came of each, in the order given
 */
export async function perform(
  acting: Acting,
  acts: readonly Act[],
  governing: Governing | null = null,
  by: Governing | null = null,
): Promise<Outcome[]> {
  if (acts.length === 0) return [];
  const { manager } = acting;
  const inForce = governing ?? (await readGoverning(manager, 'share'));
  const { world } = inForce;
  const prepare = (act: Act, charter: Governing): Prepared => {
    const appraisal = isDecided(act) ? appraiseAct(charter, act, act.change, world) : null;
    return { act, charter, appraisal, attempts: attemptsFor(act.record, charter, appraisal) };
  };
  const { acts: tied, touched } = await settleTies(manager, acts, inForce.ties);
  const settled = await withTied(manager, tied, by ?? inForce);
  const appraised = await meanwhile(writeValues(manager, settled), () =>
    settled.map((act) => prepare(act, by ?? inForce)),
  );
  const incoming = await keepOutOfTaken(manager, appraised, prepare);
  const tried = incoming.flatMap((one) => (isFreed(one) ? [] : one.attempts));
  const now = acts[0]?.asOf ?? new Date(0);
  const seen = await readSeen(manager, inForce.ready);
  const isFree = (attempt: Attempt, loads: Rota['loads']): boolean =>
    isAnyoneFree(attempt, world, { loads, ...seen }, now.getTime());
  const goingOn = routesThatGoOn(inForce.ready.rules.lead.streams);
  const waiters = await waitersBefore(manager, tried, goingOn, isFree, settled);
  const waiting = await withTied(manager, waiters.acts, inForce);
  const freed = waiting.map((act) => prepare(act, inForce));
  const all = [...(await keepOutOfTaken(manager, freed, prepare)), ...incoming];
  const locked = await lockRota(
    manager,
    all.flatMap(({ attempts }) => attempts.flatMap(turnsFor)),
    all.flatMap((one) => repsOf(one, world)),
  );
  const rota: Rota = { ...locked, ...seen };
  // Someone became free since the bay was looked at: begin again, so that nobody passes those who wait.
  if (waiters.left.some((attempt) => isFree(attempt, rota.loads))) throw new PassedOver();

  const outcomes: Outcome[] = [];
  const turns = new Set<RouteKey>();
  const reps = new Set<RepKey>();
  for (const { act, charter, appraisal } of all) {
    const decision = appraisal === null ? null : settle(charter.ready, act.record, appraisal, { ...world, rota });
    const moved: Pick<Decision, 'turn' | 'loads' | 'asOf'> = decision ?? {
      ...{ turn: null, loads: loadsOfMove(act), asOf: act.asOf.getTime() },
    };
    advance(rota, moved);
    if (moved.turn?.after) turns.add(moved.turn.route);
    for (const { rep, by } of moved.loads) {
      reps.add(rep);
      if (by < 0) acting.frees = true;
    }
    const notify = decision === null ? [] : recipientsOfVerdict(charter.ready.charter, gradedBefore(act), decision);
    outcomes.push({ act, decision, charter: charter.number, after: afterOf(act, charter, decision), notify });
  }
  await write(manager, outcomes, touched);
  await writeGateChanges(manager, outcomes);
  await writeProposals(manager, outcomes, inForce);
  await writeRota(manager, rota, turns, reps);
  await makeDeals(manager, outcomes, inForce);
  return outcomes.slice(waiters.acts.length);

  function afterOf(act: Act, charter: Governing, decision: Decision | null): Outcome['after'] {
    const { record, asOf, stored, change } = act;
    if (decision === null) {
      if (stored === null) throw new Error('A lead that just came in is decided');
      return change.kind === 'move' ? leadMoved(stored, change, asOf, inForce) : leadKept(stored, act, inForce);
    }
    const next =
      decision.status === 'open' ? new Date(changesAt(charter.ready, record, decision, world, asOf.getTime())) : null;
    return leadAfter(act, decision, next, charter);
  }
}

/** With what the charter that decides them reads of their contacts and companies. */
async function withTied(manager: EntityManager, acts: readonly Act[], { ready }: Governing): Promise<Act[]> {
  const { tied } = ready.rules.lead;
  if (tied.length === 0) return [...acts];
  const across = await tiedValues(
    manager,
    tied,
    acts.map(({ ties }) => ties),
  );
  return acts.map((act) => ({ ...act, record: { ...act.record, tied: across(act.ties) } }));
}

type Decided = Extract<Act['change'], { kind: 'decide' }>;

function appraiseAct(
  { ready }: Governing,
  { record, asOf }: Act,
  { occasion, person, handling }: Decided,
  world: Omit<World, 'rota'>,
): Appraisal {
  return appraise(ready, record, world, occasion, asOf.getTime(), person, handling);
}

/** Rules are asked, unless a hand moves the record, it is kept as it is, or it is closed: it keeps the score it closed with. */
function isDecided(act: Act): act is Act & { readonly change: Decided } {
  if (act.change.kind !== 'decide') return false;
  return act.stored === null || (act.stored.status === 'open' && act.change.handling !== 'keep');
}

function gradedBefore({ stored }: Act): GradedBefore | null {
  const { scoreSet = null, fitBand = null, engagementBand = null } = stored ?? {};
  if (scoreSet === null || fitBand === null || engagementBand === null) return null;
  return { set: scoreSet, bands: { fit: fitBand, engagement: engagementBand } };
}

function isFreed({ appraisal }: Prepared): boolean {
  return appraisal?.occasion === 'freed';
}

function loadsOfMove({ record, change }: Act): Decision['loads'] {
  return change.kind === 'move' ? loadsBetween(record.standing, change.closing?.outcome ?? 'open', change.place) : [];
}
