import { type Appraisal, type AskedGroup, type Charter, lookKey } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { Withdrawal } from '../store/entity/proposal.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { OutboxEntity } from '../store/entity/outbox.entity';
import type { LeadEntity } from '../store/entity/lead.entity';
import type { Governing } from '../store/governing';
import { insertRows } from '../store/rows';
import { toSend } from './effects';

/** The part of a lead or deal on which proposals depend. */
type Asked = Pick<LeadEntity, 'id' | 'owner' | 'stage' | 'status' | 'looks'>;

/** A lead or deal before and after an act. */
interface ActedOn {
  readonly act: { readonly stored: Asked | null; readonly asOf: Date };
  readonly after: Asked;
  /** Null where no rule was asked. */
  readonly decision: Pick<Appraisal, 'status' | 'gates'> | null;
  /** The number of the charter that decided it. */
  readonly charter: number;
}

/**
 * Writes new proposals, and withdraws those that no longer stand. A gate of a past charter proposes only if the charter in force
 * has the same one.
 */
export async function writeProposals(
  manager: EntityManager,
  outcomes: readonly ActedOn[],
  { ready: { charter } }: Pick<Governing, 'ready'>,
): Promise<void> {
  await withdrawEnded(manager, outcomes);
  const asking = askingGates(charter);
  const asked = outcomes.flatMap(({ act, after, decision, charter: number }) =>
    (decision?.status === 'open' ? decision.gates.asks : []).flatMap(({ gate, look, pick }): Question[] => {
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

interface Question {
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

function rowOf({ record, gate, look, pick, stage, group, number, at }: Question): Partial<ProposalEntity> {
  return {
    ...{ record, gate, openGate: gate, look, pick, stage, charter: number, askedAt: at, state: 'open', by: '' },
    team: group?.kind === 'team' ? group.team : null,
    queue: group?.kind === 'queue' ? group.queue : null,
  };
}

/** The owner is told, or without one the members of the queue that is asked; a team finds it among what it is to decide. */
function noticeOf({ record, owner, group, at }: Question): Partial<OutboxEntity>[] {
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

function trueLooks(looks: Asked['looks']): string[] {
  return Object.entries(looks).flatMap(([key, look]) => (look === 'true' ? [key] : []));
}

interface Ended {
  readonly why: Withdrawal;
  readonly at: Date;
  readonly looks: (readonly [record: number, look: string])[];
}

/** Withdraws the proposals whose looks are not true any more, in one statement for each reason and instant. */
async function withdrawEnded(manager: EntityManager, outcomes: readonly ActedOn[]): Promise<void> {
  const ended = new Map<string, Ended>();
  for (const { act, after } of outcomes) {
    const { stored, asOf: at } = act;
    if (stored === null) continue;
    const closes = stored.status === 'open' && after.status !== 'open';
    const gone = trueLooks(stored.looks).filter((look) => closes || after.looks[look] !== 'true');
    if (gone.length === 0) continue;
    const why = closes ? 'closed' : after.stage === stored.stage ? 'not-true' : 'left-stage';
    const key = `${why} ${at.getTime()}`;
    const group = ended.get(key) ?? { why, at, looks: [] };
    ended.set(key, group);
    group.looks.push(...gone.map((look) => [after.id, look] as const));
  }
  for (const { why, at, looks } of ended.values())
    await manager.query(`${WITHDRAW} WHERE open_gate IS NOT NULL AND (record, look) IN (?)`, [why, at, looks]);
}

const WITHDRAW = "UPDATE proposal SET state = 'withdrawn', open_gate = NULL, why = ?, decided_at = ?";

/** Withdraws all open proposals of a lead that is joined into another. */
export async function withdrawJoined(manager: EntityManager, record: number, at: Date): Promise<void> {
  await manager.query(`${WITHDRAW} WHERE open_gate IS NOT NULL AND record = ?`, ['joined', at, record]);
}

/** Withdraws the proposals that no gate of a new charter makes, of all records, whatever the scope of enacting. */
export async function withdrawGone(manager: EntityManager, charter: Charter, at: Date): Promise<void> {
  const looks = [...askingGates(charter).keys()];
  await manager.query(`${WITHDRAW} WHERE state = 'open'${looks.length === 0 ? '' : ' AND look NOT IN (?)'}`, [
    'gate-gone',
    at,
    ...(looks.length === 0 ? [] : [looks]),
  ]);
}
