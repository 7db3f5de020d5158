import type { Activity, AnyRecord, Instant, Origin, ReadyCharter, UnroutedKind, Value } from '@relvik/core';
import { type EntityManager, In } from 'typeorm';
import { DealEntity } from './entity/deal.entity';
import type { UnroutedEntity } from './entity/unrouted.entity';
import { NO_TIES, type Ties, tiedValues } from './tied-values';
import { BELOW, UNROUTED_ENTITIES } from './unrouted-kinds';
import { type KeptValue, valueOf } from './value-row';

/** A contact, company or deal as it is stored, and as score sets read it. */
export interface StoredUnrouted {
  readonly kind: UnroutedKind;
  readonly entity: UnroutedEntity;
  readonly record: AnyRecord;
  /** How each of its values came there. */
  readonly origins: ReadonlyMap<string, Origin>;
  /** When each of its values came there. */
  readonly setAt: ReadonlyMap<string, Instant>;
}

type ValueRow = KeptValue & {
  readonly record: number;
  readonly field: string;
  readonly origin: Origin;
  readonly setAt: Date | null;
};

interface ActivityRow {
  readonly party: number;
  readonly kind: string;
  readonly at: Date;
  readonly properties: string | null;
}

/** The contact and company that a deal is tied to; the other kinds read across no tie. */
export function tiesOfUnrouted(entity: UnroutedEntity): Ties {
  return entity instanceof DealEntity ? { contact: entity.contact, company: entity.company } : NO_TIES;
}

/**
 * Loads contacts, companies or deals with all that score sets read, in order of their ids; the activities of records below count
 * for contact and company.
 *
 * @param lock `write`: nobody else changes them until the transaction ends
 */
export async function loadUnrouted(
  manager: EntityManager,
  kind: UnroutedKind,
  ids: readonly number[],
  { rules }: ReadyCharter,
  lock: 'none' | 'write' = 'none',
): Promise<StoredUnrouted[]> {
  if (ids.length === 0) return [];
  const query = manager
    .createQueryBuilder(UNROUTED_ENTITIES[kind], 'one')
    .where({ id: In([...ids]) })
    .orderBy('one.id');
  const entities = await (lock === 'write' ? query.setLock('pessimistic_write') : query).getMany();
  const values = await manager.query<ValueRow[]>(
    'SELECT record, field, kind, shown, number, currency, day, why, origin, set_at AS setAt FROM field_value WHERE record IN (?)',
    [ids],
  );
  const activities = await activitiesOf(manager, kind, ids);
  const across = await tiedValues(manager, rules[kind].tied, entities.map(tiesOfUnrouted));
  return entities.map((entity) => {
    const own = values.filter(({ record }) => record === entity.id);
    return {
      kind,
      entity,
      origins: new Map(own.map(({ field, origin }) => [field, origin])),
      setAt: new Map(own.map(({ field, setAt }) => [field, (setAt ?? entity.arrived).getTime()])),
      record: {
        id: String(entity.id),
        kind,
        arrived: entity.arrived.getTime(),
        way: null,
        values: new Map(own.map((row): [string, Value] => [row.field, valueOf(row)])),
        activities: activities.get(entity.id) ?? [],
        tied: across(tiesOfUnrouted(entity)),
        standing: null,
      },
    };
  });
}

/** Everything that counts as done by these records, by id. */
async function activitiesOf(
  manager: EntityManager,
  kind: UnroutedKind,
  ids: readonly number[],
): Promise<ReadonlyMap<number, Activity[]>> {
  const sources = [
    'SELECT a.record AS party, a.kind, a.at, a.properties FROM activity a WHERE a.record IN (?)',
    ...BELOW[kind].map(
      ([table, column]) =>
        `SELECT below.${column} AS party, a.kind, a.at, a.properties FROM \`${table}\` below JOIN activity a ON a.record = below.id WHERE below.${column} IN (?)`,
    ),
  ];
  const rows = await manager.query<ActivityRow[]>(
    sources.join(' UNION ALL '),
    sources.map(() => ids),
  );
  const byParty = new Map<number, Activity[]>();
  for (const { party, kind: of, at, properties } of rows) {
    const own = byParty.get(party) ?? [];
    byParty.set(party, own);
    own.push({
      kind: of,
      at: at.getTime(),
      ...(properties === null ? {} : { properties: JSON.parse(properties) as Record<string, string> }),
    });
  }
  for (const own of byParty.values()) own.sort((a, b) => b.at - a.at);
  return byParty;
}
