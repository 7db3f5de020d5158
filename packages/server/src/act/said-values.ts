import type { Value } from '@relvik/core';
import { type DataSource, type EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { OutboxEntity } from '../store/entity/outbox.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import type { StoredLead } from '../store/load-leads';
import { insertRows, replaceRows } from '../store/rows';
import { edited } from './act';
import { handOf, type WayIn } from './cause';
import { toSend } from './effects';
import { byHand, type Hand } from './hand';
import { perform } from './perform';

/** The values that an inquiry sent for a known lead. */
export interface Said {
  readonly lead: StoredLead;
  /** Values that are not taken, by field. */
  readonly beside: ReadonlyMap<string, Value>;
  /** Fields in which something was taken: what was said of them before is settled. */
  readonly settled: readonly string[];
  readonly cause: WayIn;
  readonly at: Date;
}

/** Keeps what was said beside what is known, the newest of each field, and tells the lead's owner. */
export async function keepSaid(manager: EntityManager, all: readonly Said[]): Promise<void> {
  const rows = all.flatMap(({ lead, beside, cause, at }) =>
    [...beside].map(([field, value]) => ({
      record: lead.entity.id,
      field,
      value,
      way: cause.kind,
      by: cause.name.slice(0, 120),
      at,
    })),
  );
  await forget(
    manager,
    all.flatMap(({ lead, settled }) => settled.map((field) => [lead.entity.id, field] as const)),
  );
  await replaceRows(manager, SaidValueEntity, rows);
  await insertRows(
    manager,
    OutboxEntity,
    all.flatMap(({ lead: { entity }, beside, at }) =>
      beside.size === 0 || entity.place !== 'owner'
        ? []
        : [toSend({ person: entity.owner, queue: null, notice: 'said', job: null }, entity.id, at)],
    ),
  );
}

/** Deletes the values not taken of these fields: they are settled. */
export async function forget(
  manager: EntityManager,
  fields: readonly (readonly [record: number, field: string])[],
): Promise<void> {
  if (fields.length > 0) await manager.query('DELETE FROM said_value WHERE (record, field) IN (?)', [fields]);
}

/**
 * Takes what was said over, or leaves what is known.
 *
 * @throws Refused if nothing stands beside that field
 */
export function settleSaid(source: DataSource, id: number, field: string, take: boolean, hand: Hand): Promise<void> {
  return byHand(source, id, 'edit', hand, async (acting, { lead }) => {
    const said = await acting.manager.findOneBy(SaidValueEntity, { record: id, field });
    if (said === null) throw Refused.notFound();
    await forget(acting.manager, [[id, field]]);
    if (take)
      await perform(acting, [edited(lead, new Map([[field, said.value]]), 'edited', handOf(hand.user), hand.at)]);
  });
}
