import type { GateNow, StageKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { ProposalEntity } from '../store/entity/proposal.entity';
import type { Hand } from './hand';

/** Settles the open proposals of a record that a hand moves: the move is the answer, beside the rule's. */
export async function settleByMove(
  manager: EntityManager,
  { id: record }: { readonly id: number },
  to: StageKey,
  now: readonly GateNow[],
  { user, at }: Hand,
): Promise<void> {
  const open = await manager.findBy(ProposalEntity, { record, state: 'open' });
  for (const { id, look } of open) {
    const asking = now.find(({ gate }) => gate.look === look);
    if (asking === undefined) continue;
    await manager.update(ProposalEntity, id, {
      ...{ state: 'taken', openGate: null, answer: to, rule: asking.account.answer === 'yes' ? asking.pick : null },
      ...{ person: user.key, by: user.name, decidedAt: at, undo: null },
    });
  }
}
