import type { DoneEach, MoveLeads } from '@relvik/contracts';
import { allStages, gateAlong, type GateNow, stagesByHand, type StageKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { type Governing, readGoverning } from '../store/governing';
import type { StoredLead } from '../store/load-leads';
import { movedOn } from './act';
import { handOf } from './cause';
import { eachOf } from './each-of';
import { gatesOfLead } from './gates-of-lead';
import { byHand, type Hand } from './hand';
import { perform } from './perform';
import { settleByMove } from './settle-by-move';

/**
 * Moves leads to another stage of their pipeline by hand, each by itself, as the charter allows. What a gate asked about one is
 * settled by it.
 *
 * @throws Refused for a stage that is none
 */
export async function moveLeads(source: DataSource, { ids, stage, reason }: MoveLeads, hand: Hand): Promise<DoneEach> {
  const { ready } = await readGoverning(source.manager, 'none');
  const to = allStages(ready.charter).find(({ key }) => key === stage)?.key;
  if (to === undefined) throw Refused.invalid([{ path: '/stage', message: 'is no stage' }]);
  return eachOf(ids, (id) => moveLead(source, id, to, reason ?? null, hand));
}

async function moveLead(
  source: DataSource,
  id: number,
  to: StageKey,
  reason: string | null,
  hand: Hand,
): Promise<void> {
  await byHand(source, id, 'move', hand, async (acting, { lead }) => {
    const { manager } = acting;
    const governing = await readGoverning(manager, 'share');
    if (lead.entity.stage === to) return;
    const now = await gatesOfLead(manager, lead, governing, hand.at);
    const gate = checkMove(lead, to, reason, governing, now);
    await settleByMove(manager, lead.entity, to, now, hand);
    await perform(acting, [movedOn(lead, { kind: 'moves', gate, to, reason }, handOf(hand.user), hand.at)], governing);
  });
}

/** The gate along which it goes; null: none. @throws Refused where the charter does not allow it, or a reason is missing */
function checkMove(
  { record }: StoredLead,
  to: StageKey,
  reason: string | null,
  { ready }: Governing,
  now: readonly GateNow[],
): string | null {
  const from = record.standing.stage ?? '';
  const allowed = stagesByHand(ready.charter, from);
  if (!allowed.some(({ key }) => key === to)) {
    const names = allowed.map(({ name }) => name).join(', ');
    throw Refused.as('not-by-hand', {
      detail: names === '' ? 'From its stage a hand moves nothing.' : `From its stage a hand may move it to ${names}.`,
    });
  }
  const gate = gateAlong(now, to);
  if (gate === null && (reason ?? '') === '')
    throw Refused.invalid([{ path: '/reason', message: 'No gate that holds leads there: say why, in a few words' }]);
  return gate;
}
