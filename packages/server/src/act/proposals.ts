import { type AskedGroup, type Charter, lookKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Withdrawal } from '../store/entity/proposal.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import type { Governing } from '../store/governing';
import { insertRows } from '../store/rows';
import { toSend } from './effects';
import type { Outcome } from './write';

/**
 * Writes the questions that gates put, and withdraws those that no longer stand. What a past charter asks is asked only where the
 * one in force asks it, too.
 */
export async function writeProposals(
  manager: EntityManager,
  outcomes: readonly Outcome[],
  { ready: { charter } }: Pick<Governing, 'ready'>,
): Promise<void> {
  for (const outcome of outcomes) {
    const why = withdrawalOf(outcome);
    if (why !== null) await withdraw(manager, outcome.after.id, why, trueLooks(outcome.after.looks), outcome.act.asOf);
  }
  const asking = askingGates(charter);
  const asked = outcomes.flatMap(({ act, after, decision, charter: number }) =>
    (decision?.status === 'open' ? decision.gates.asks : []).flatMap(({ gate, look, pick }): Asked[] => {
      const group = asking.get(look);
      if (group === undefined) return [];
      return [
        { record: after.id, owner: after.owner, gate, look, pick, stage: after.stage, group, number, at: act.asOf },
      ];
    }),
  );
  await insertRows(manager, ProposalEntity, asked.map(rowOf));
  await insertRows(manager, OutboxEntity, asked.flatMap(noticeOf));
}

interface Asked {
  readonly record: number;
  readonly owner: string | null;
  readonly gate: string;
  readonly look: string;
  readonly pick: string;
  readonly stage: string;
  readonly group: AskedGroup | null;
  /** Of the charter. */
  readonly number: number;
  readonly at: Date;
}

function rowOf({ record, gate, look, pick, stage, group, number, at }: Asked): Partial<ProposalEntity> {
  return {
    ...{ record, gate, openGate: gate, look, pick, stage, charter: number, askedAt: at, state: 'open', by: '' },
    team: group?.kind === 'team' ? group.team : null,
    queue: group?.kind === 'queue' ? group.queue : null,
  };
}

/** The owner is told, or without one the members of the queue that is asked; a team finds it among what it is to decide. */
function noticeOf({ record, owner, group, at }: Asked): Partial<OutboxEntity>[] {
  const queue = group?.kind === 'queue' ? group.queue : null;
  if (owner === null && queue === null) return [];
  const to = owner === null ? { person: null, queue } : { person: owner, queue: null };
  return [toSend({ ...to, notice: 'asked', job: null }, record, at)];
}

/** By look key the group asked by each gate that is on and asks. */
function askingGates({ gates }: Charter): Map<string, AskedGroup | null> {
  return new Map(
    gates.flatMap((gate) =>
      gate.on && gate.decider.kind === 'asks' ? [[lookKey(gate), gate.decider.withoutOwner] as const] : [],
    ),
  );
}

function trueLooks(looks: Outcome['after']['looks']): string[] {
  return Object.entries(looks).flatMap(([key, look]) => (look === 'true' ? [key] : []));
}

/** Why questions about a record may no longer stand; null: all that stood do. */
function withdrawalOf({ act: { stored }, after }: Outcome): Withdrawal | null {
  if (stored === null) return null;
  if (stored.status === 'open' && after.status !== 'open') return 'closed';
  const still = new Set(trueLooks(after.looks));
  if (trueLooks(stored.looks).every((look) => still.has(look))) return null;
  return after.stage === stored.stage ? 'not-true' : 'left-stage';
}

/** Withdraws the questions about a record. @param but those of these looks stand, unless the record was closed */
export async function withdraw(
  manager: EntityManager,
  record: number,
  why: Withdrawal,
  but: readonly string[],
  at: Date,
): Promise<void> {
  const kept = why === 'closed' || but.length === 0 ? '' : ' AND look NOT IN (?)';
  await manager.query(
    `UPDATE proposal SET state = 'withdrawn', open_gate = NULL, why = ?, decided_at = ? WHERE record = ? AND open_gate IS NOT NULL${kept}`,
    [why, at, record, ...(kept === '' ? [] : [but])],
  );
}

/** Withdraws what no gate of the charter that comes into force asks, whatever records are decided again. */
export async function withdrawGone(manager: EntityManager, charter: Charter, at: Date): Promise<void> {
  const looks = [...askingGates(charter).keys()];
  await manager.query(
    `UPDATE proposal SET state = 'withdrawn', open_gate = NULL, why = 'gate-gone', decided_at = ? WHERE state = 'open'${looks.length === 0 ? '' : ' AND look NOT IN (?)'}`,
    [at, ...(looks.length === 0 ? [] : [looks])],
  );
}
