import type { Fairness, FairnessQuery } from '@relvik/contracts';
import {
  type CondensedDecision,
  exclusionOf,
  membersAt,
  type Placement,
  type RepKey,
  RESPECTS_ALL,
  type RouteKey,
  type Sharer,
  sharesOf,
  type Skipped,
} from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Sight } from '../session/sight';
import { CharterEntity } from '../store/entity/charter.entity';
import { DecisionEntity } from '../store/entity/history.entity';
import { type Governing, readGoverning } from '../store/governing';
import { peekLoads } from '../store/rota';
import { readSeen } from '../store/seen';

const DAYS_30 = 30 * 86_400_000;
/** Number of decisions that are read at most, newest first. */
const MOST = 20_000;
const BATCH = 1000;

/** Expected and actual leads of each person, by route; people outside the sight are left out. */
export async function fairnessOf(
  manager: EntityManager,
  { since: asked }: FairnessQuery,
  sight: Sight,
  now: Date,
): Promise<Fairness> {
  const governing = await readGoverning(manager, 'none');
  const { ready, world, number } = governing;
  const enacted = asked === 'charter' ? await manager.findOneBy(CharterEntity, { number }) : null;
  const from = enacted?.enactedAt ?? new Date(now.getTime() - DAYS_30);
  const { placements, since, cut } = await placementsSince(manager, from);
  const isSeen = (rep: RepKey): boolean => sight.all || sight.owners.includes(rep);
  const routes = ready.rules.lead.streams.flatMap((stream) =>
    stream.routes.flatMap((route) => {
      const sharers = sharersOf(route, governing);
      if (sharers.length < 2) return [];
      const all = sharesOf(sharers, placements.get(route.key) ?? []);
      const shares = all.shares.filter(({ rep }) => isSeen(rep));
      return shares.length === 0 ? [] : [{ route: route.key, ...all, shares }];
    }),
  );
  const loads = await peekLoads(manager);
  const seen = await readSeen(manager);
  const demand = { at: now.getTime(), respects: RESPECTS_ALL, skills: [] };
  const passed = [...world.reps.values()].flatMap((rep): Skipped[] => {
    const exclusion = isSeen(rep.key) ? exclusionOf(rep, world, { loads, ...seen }, demand) : null;
    return exclusion === null ? [] : [{ rep: rep.key, exclusion }];
  });
  return { since: since.getTime(), cut, routes, now: passed };
}

/** Those among whom a route chooses, with their weights as far as its method knows any. */
function sharersOf(
  { to, method }: Governing['ready']['rules']['lead']['streams'][number]['routes'][number],
  { world }: Governing,
): Sharer[] {
  return membersAt(to, world).reps.flatMap((key) => {
    const rep = world.reps.get(key);
    if (rep?.mayTakeLeads !== true) return [];
    return [{ rep: key, weight: method === 'weighted' ? (rep.weight ?? 1) : 1 }];
  });
}

/** By route what it gave to whom, or why to nobody, since an instant; of very many decisions the newest. */
async function placementsSince(
  manager: EntityManager,
  from: Date,
): Promise<{ placements: ReadonlyMap<RouteKey, readonly Placement[]>; since: Date; cut: boolean }> {
  const placements = new Map<RouteKey, Placement[]>();
  let since = from;
  let before: number | null = null;
  for (let seen = 0; seen < MOST; seen += BATCH) {
    const query = manager.createQueryBuilder(DecisionEntity, 'decision').orderBy('decision.id', 'DESC').limit(BATCH);
    const rows: DecisionEntity[] = await (
      before === null ? query : query.where('decision.id < :before', { before })
    ).getMany();
    for (const { asOf, body } of rows) {
      if (asOf < from) return { placements, since: from, cut: false };
      since = asOf;
      const found = placementOf(body);
      if (found === null) continue;
      const known = placements.get(found.route);
      if (known === undefined) placements.set(found.route, [found]);
      else known.push(found);
    }
    const last = rows.at(-1);
    if (last === undefined || rows.length < BATCH) return { placements, since: from, cut: false };
    before = last.id;
  }
  return { placements, since, cut: true };
}

function placementOf({
  routing,
  place,
  placedBy,
  kept,
  skipped,
}: Pick<CondensedDecision, 'place' | 'placedBy' | 'kept' | 'skipped'> & {
  readonly routing: Pick<NonNullable<CondensedDecision['routing']>, 'match'> | null;
}): (Placement & { readonly route: RouteKey }) | null {
  if (routing === null || kept === true || routing.match.kind !== 'matched') return null;
  const waits = place.kind === 'bay' && place.reason.why === 'nobody-free';
  if (place.kind !== 'owner' && !waits) return null;
  return { route: placedBy ?? routing.match.route, rep: place.kind === 'owner' ? place.rep : null, skipped };
}
