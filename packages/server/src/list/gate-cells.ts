import type { LeadColumn, LeadQuery, LeadRow } from '@relvik/contracts';
import { appraise, type GateAnswer, namesOf, obstaclesOf } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import type { LeadEntity } from '../store/entity/lead.entity';
import { ProposalEntity } from '../store/entity/proposal.entity';
import { readGoverning } from '../store/governing';
import { loadLeads, withTiedValues } from '../store/load-leads';

type GateCells = Pick<LeadRow, 'asks' | 'waits'>;
const NONE: GateCells = { asks: [], waits: [] };

/** The condition of the gate holds, and something else, or someone, is waited for. */
const WAITING: readonly GateAnswer[] = ['waits-for-field', 'waits-for-time', 'for-a-person'];

/** The cells of leads that tell of gates, by id; read only where their columns are asked for. */
export async function gateCellsOf(
  manager: EntityManager,
  leads: readonly Pick<LeadEntity, 'id' | 'status'>[],
  { columns = '' }: LeadQuery,
  now: Date,
): Promise<(id: number) => GateCells> {
  const asked = columns.split(',');
  const wants = (column: LeadColumn): boolean => asked.includes(column);
  const ids = leads.filter(({ status }) => status === 'open').map(({ id }) => id);
  const asks = wants('asks') ? await asksOf(manager, ids) : new Map<number, string[]>();
  const waits = wants('waits') ? await waitsOf(manager, ids, now) : new Map<number, GateCells['waits']>();
  return (id) => ({ asks: asks.get(id) ?? NONE.asks, waits: waits.get(id) ?? NONE.waits });
}

async function asksOf(manager: EntityManager, ids: readonly number[]): Promise<ReadonlyMap<number, string[]>> {
  const asks = new Map<number, string[]>();
  if (ids.length === 0) return asks;
  const open = await manager.find(ProposalEntity, {
    select: { record: true, gate: true },
    where: { record: In([...ids]), state: 'open' },
    order: { id: 'ASC' },
  });
  for (const { record, gate } of open) asks.set(record, [...(asks.get(record) ?? []), gate]);
  return asks;
}

async function waitsOf(
  manager: EntityManager,
  ids: readonly number[],
  now: Date,
): Promise<ReadonlyMap<number, GateCells['waits']>> {
  const waits = new Map<number, GateCells['waits']>();
  if (ids.length === 0) return waits;
  const { ready, world } = await readGoverning(manager, 'none');
  const { charter, rules } = ready;
  const wording = { names: namesOf(charter, world), fields: world.fields, baseCurrency: charter.baseCurrency };
  for (const { entity, record } of await withTiedValues(
    manager,
    await loadLeads(manager, ids, 'none'),
    rules.lead.tied,
  )) {
    const { stage } = record.standing;
    if (stage === null) continue;
    const looked = appraise(ready, record, world, 'enacted', now.getTime()).gates.looked.filter(({ answer }) =>
      WAITING.includes(answer),
    );
    const gates = charter.gates.filter(({ key }) => looked.some(({ gate }) => gate === key));
    // The column says that it waits.
    const own = obstaclesOf(looked, stage, gates, wording).map(({ gate, words }) => ({
      gate,
      words: words.replace(/^(waits: |holds, and is )/, ''),
    }));
    if (own.length > 0) waits.set(entity.id, own);
  }
  return waits;
}
