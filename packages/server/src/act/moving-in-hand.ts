import {
  type GateChange,
  type GateNow,
  gatesNow,
  type MovingRecord,
  type PersonMove,
  type PipelineKind,
  PIPELINE_KINDS,
  type Value,
} from '@relvik/core';
import { Refused } from '../problem/refused';
import { recordInSight } from '../session/record-sight';
import { rightsOnRecord } from '../session/record-rights';
import { rightsOn } from '../session/rights';
import { sightOf } from '../session/sight';
import { DealEntity } from '../store/entity/deal.entity';
import { LeadEntity, RecordEntity } from '../store/entity/lead.entity';
import type { Governing } from '../store/governing';
import { loadLeads, type StoredLead } from '../store/load-leads';
import { loadDeals, movingDeal, type StoredDeal } from '../store/moving-deal';
import { movedOn } from './act';
import { handOf } from './cause';
import { handSource } from './change-source';
import { decideDeals } from './decide-deals';
import { gatesOfLead } from './gates-of-lead';
import { type Hand, takeInHand } from './hand';
import { type Acting, perform } from './perform';

type Move = PersonMove & { readonly reason: string | null };
type Standing = Pick<LeadEntity, 'id' | 'stage' | 'stageSince' | 'status' | 'looks'>;

/** A lead or deal that someone moves from stage to stage, its row locked. */
export interface MovingInHand {
  readonly kind: PipelineKind;
  readonly entity: Standing;
  readonly record: MovingRecord;
  /** The answers of the gates of its stage now. */
  gates(): Promise<readonly GateNow[]>;
  /**
   * Moves it; rules are asked from there.
   *
   * @param values that change with it
   * @returns how it stands afterwards, and what gates changed
   */
  move(move: Move, values?: ReadonlyMap<string, Value>): Promise<{ entity: Standing; changes: readonly GateChange[] }>;
  /** Says that it stands in its stage since then. */
  setStageSince(since: Date): Promise<void>;
  /** Whether the person may decide about it. */
  mayDecide(): Promise<boolean>;
}

/**
 * Locks a lead or deal about which someone decides.
 *
 * @throws Refused `not-found` for one outside the user's sight, `forbidden` for one they see only
 */
export async function takeToDecide(
  acting: Acting,
  id: number,
  governing: Governing,
  hand: Hand,
): Promise<MovingInHand> {
  const { manager } = acting;
  if ((await kindOf(acting, id)) === 'lead') {
    const [inHand] = await takeInHand(manager, [id], 'decide', hand);
    if (inHand === undefined) throw Refused.notFound();
    return leadInHand(acting, inHand.lead, governing, hand);
  }
  const sight = await sightOf(manager, hand.user);
  const entity = await recordInSight(manager, 'deal', sight, id, 'write');
  if (!(await rightsOnRecord(manager, 'deal', entity, sight, hand.user)).decide) throw Refused.as('forbidden');
  return lockMoving(acting, entity.id, governing, hand);
}

/** Locks a lead or deal, whoever sees it. @throws Refused `not-found` where it is no more */
export async function lockMoving(acting: Acting, id: number, governing: Governing, hand: Hand): Promise<MovingInHand> {
  if ((await kindOf(acting, id)) === 'lead') {
    const [lead] = await loadLeads(acting.manager, [id], 'write');
    if (lead !== undefined) return leadInHand(acting, lead, governing, hand);
  } else {
    const [deal] = await loadDeals(acting.manager, [id], governing.ready, 'write');
    if (deal !== undefined) return dealInHand(acting, deal, governing, hand);
  }
  throw Refused.notFound();
}

async function kindOf({ manager }: Acting, id: number): Promise<PipelineKind> {
  const found = await manager.findOneBy(RecordEntity, { id });
  const kind = PIPELINE_KINDS.find((one) => one === found?.kind);
  if (kind === undefined) throw Refused.notFound();
  return kind;
}

function leadInHand(acting: Acting, lead: StoredLead, governing: Governing, { user, at }: Hand): MovingInHand {
  const { manager } = acting;
  const { entity, record } = lead;
  return {
    kind: 'lead',
    entity,
    record,
    gates: () => gatesOfLead(manager, lead, governing, at),
    async move(move, values) {
      const [outcome] = await perform(acting, [movedOn(lead, move, handOf(user), at, values)], governing);
      return { entity: outcome?.after ?? entity, changes: outcome?.decision?.gates.changes ?? [] };
    },
    async setStageSince(stageSince) {
      await manager.update(LeadEntity, entity.id, { stageSince });
    },
    mayDecide: async () => rightsOn(entity, await sightOf(manager, user), user).decide,
  };
}

function dealInHand({ manager }: Acting, deal: StoredDeal, governing: Governing, hand: Hand): MovingInHand {
  const { entity } = deal;
  const record = movingDeal(deal);
  return {
    kind: 'deal',
    entity,
    record,
    gates: () => Promise.resolve(gatesNow(governing.ready, record, governing.world, hand.at.getTime())),
    async move(person, values = new Map()) {
      const occasion = person.kind === 'accepts' ? 'accepted' : 'moved';
      const act = { deal, occasion, person, values, by: handSource(hand) } as const;
      const [outcome] = await decideDeals(manager, [act], governing, governing);
      return { entity: outcome?.after ?? entity, changes: outcome?.decision.gates.changes ?? [] };
    },
    async setStageSince(stageSince) {
      await manager.update(DealEntity, entity.id, { stageSince });
    },
    async mayDecide() {
      const sight = await sightOf(manager, hand.user);
      return (await rightsOnRecord(manager, 'deal', entity, sight, hand.user)).decide;
    },
  };
}
