import type {
  Activity,
  MovingRecord,
  Place,
  QueueKey,
  RepKey,
  RouteKey,
  StageKey,
  TerritoryKey,
  Value,
} from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { LeadEntity } from './entity/lead.entity';
import { type Ties, tiedValues } from './tied-values';
import { type KeptValue, valueOf } from './value-row';

type ValueRow = KeptValue & { readonly record: number; readonly field: string };

interface ActivityRow {
  readonly record: number;
  readonly kind: string;
  readonly at: Date;
  readonly properties: string | null;
}

/** A lead as it is stored, and as a decision reads it. */
export interface StoredLead {
  readonly entity: LeadEntity;
  readonly record: MovingRecord;
}

/** The ties of a stored lead. */
export function tiesOf({ contact, companyId }: Pick<LeadEntity, 'contact' | 'companyId'>): Ties {
  return { contact, company: companyId };
}

/** Where a stored lead is. */
export function placeOf(
  lead: Pick<LeadEntity, 'place' | 'owner' | 'queue' | 'bay' | 'verdict' | 'nobodyBecause'>,
): Place {
  switch (lead.place) {
    case 'owner':
      return { kind: 'owner', rep: lead.owner as RepKey };
    case 'queue':
      return { kind: 'queue', queue: lead.queue as QueueKey };
    case 'bay':
      return { kind: 'bay', reason: lead.bay ?? { why: 'unjudged', fields: [] } };
    case 'not-handed-over':
      return {
        ...{ kind: 'not-handed-over', verdict: lead.verdict },
        ...(lead.nobodyBecause === null ? {} : { reason: lead.nobodyBecause }),
      };
  }
}

function grouped<Row extends { record: number }, T>(rows: readonly Row[], pick: (row: Row) => T): Map<number, T[]> {
  const groups = new Map<number, T[]>();
  for (const row of rows) {
    const group = groups.get(row.record);
    if (group) group.push(pick(row));
    else groups.set(row.record, [pick(row)]);
  }
  return groups;
}

/**
 * Loads leads with all that a decision reads, in order of their ids.
 *
 * @param lock `write`: nobody else changes them until the transaction ends
 */
export async function loadLeads(
  manager: EntityManager,
  ids: readonly number[],
  lock: 'none' | 'write',
): Promise<StoredLead[]> {
  if (ids.length === 0) return [];
  const query = manager
    .createQueryBuilder(LeadEntity, 'lead')
    .where({ id: In([...ids]) })
    .orderBy('lead.id');
  const entities = await (lock === 'write' ? query.setLock('pessimistic_write') : query).getMany();
  // Read as plain rows: of some twenty for each lead, entities would cost more than the decision.
  const values = grouped(
    await manager.query<ValueRow[]>(
      'SELECT record, field, kind, shown, number, currency, day, why FROM field_value WHERE record IN (?)',
      [[...ids]],
    ),
    (row): [string, Value] => [row.field, valueOf(row)],
  );
  const activities = grouped(
    await manager.query<ActivityRow[]>('SELECT record, kind, at, properties FROM activity WHERE record IN (?)', [
      [...ids],
    ]),
    ({ kind, at, properties }): Activity => ({
      kind,
      at: at.getTime(),
      ...(properties === null ? {} : { properties: JSON.parse(properties) as Record<string, string> }),
    }),
  );
  return entities.map((entity) => ({
    entity,
    record: recordOf(entity, new Map(values.get(entity.id)), activities.get(entity.id) ?? []),
  }));
}

/** Leads with what some fields of their contacts and companies hold. */
export async function withTiedValues(
  manager: EntityManager,
  leads: readonly StoredLead[],
  fields: readonly string[],
): Promise<StoredLead[]> {
  if (fields.length === 0) return [...leads];
  const across = await tiedValues(
    manager,
    fields,
    leads.map(({ entity }) => tiesOf(entity)),
  );
  return leads.map((lead) => ({ ...lead, record: { ...lead.record, tied: across(tiesOf(lead.entity)) } }));
}

function recordOf(
  entity: LeadEntity,
  values: ReadonlyMap<string, Value>,
  activities: readonly Activity[],
): MovingRecord {
  return {
    id: String(entity.id),
    kind: 'lead',
    arrived: entity.arrived.getTime(),
    way: entity.way,
    values,
    activities,
    standing: {
      status: entity.status,
      cameInto: entity.cameInto,
      stage: entity.stage as StageKey,
      stageSince: entity.stageSince.getTime(),
      place: placeOf(entity),
      placedBy: entity.route as RouteKey | null,
      ...(entity.givenBackBy === null ? {} : { givenBackBy: entity.givenBackBy as readonly RepKey[] }),
      territory: entity.territory as TerritoryKey | null,
      ...(entity.openDeals > 0 ? { hasOpenDeal: true } : {}),
      pin: entity.pin as TerritoryKey | null,
      looks: new Map(Object.entries(entity.looks)),
    },
  };
}
