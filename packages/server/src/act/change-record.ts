import { isDeepStrictEqual } from 'node:util';
import {
  dayOf,
  formProblem,
  keyOfRole,
  kindOfField,
  type Raw,
  readValue,
  sameValue,
  showValue,
  type TieKind,
  type UnroutedKind,
  type Value,
  withOptionsOf,
  countryToReadBy,
} from '@relvik/core';
import type { EditRecord } from '@relvik/contracts';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { recordInSight } from '../session/record-sight';
import type { Sight } from '../session/sight';
import { CompanyEntity } from '../store/entity/company.entity';
import { ContactAliasEntity, type ContactEntity } from '../store/entity/contact.entity';
import { DealEntity } from '../store/entity/deal.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import type { UnroutedEntity } from '../store/entity/unrouted.entity';
import type { Governing } from '../store/governing';
import type { StoredUnrouted } from '../store/load-unrouted';
import { insertRows } from '../store/rows';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { type ChangeSource, handSource, lineBy } from './change-source';
import { decideDeal } from './decide-deals';
import { dueBelow } from './due-across';
import type { Hand } from './hand';
import { keepCompanyKeys, partyKeys, refuseKnown } from './party-keys';
import { forget } from './said-values';
import { onRecord } from './record-in-hand';
import { touchParties } from './touch-parties';
import { writeRecordValues } from './record-values';

/** Reads values of a kind's fields as they were sent; what can't be read is kept and marked. */
export function readRecordValues(
  kind: UnroutedKind,
  raw: Readonly<Record<string, Raw>>,
  before: ReadonlyMap<string, Value>,
  { world, ready }: Governing,
  at: Date,
): Map<string, Value> {
  const day = dayOf(at.getTime(), ready.charter.timeZone);
  const values = new Map<string, Value>();
  for (const [key, written] of Object.entries(raw)) {
    const field = world.fields.get(key);
    const refuse = (message: string): never => {
      throw Refused.invalid([{ path: `/values/${key}`, message }]);
    };
    if (field === undefined || field.retired || kindOfField(key) !== kind) return refuse(`is no field of a ${kind}`);
    const message = formProblem(field, written);
    if (message !== null) refuse(message);
    const known = before.get(key);
    const country = countryToReadBy(field, world.fields, kind, (one) => raw[one], before);
    const value = readValue(withOptionsOf(field, known), written, day, country);
    if (!sameValue(known, value)) values.set(key, value);
  }
  return values;
}

/** Changes values by hand: they stay until a hand changes them; one that is emptied takes what leads say again. */
export function editRecord(
  source: DataSource,
  kind: UnroutedKind,
  id: number,
  { version, values: raw, company }: EditRecord,
  hand: Hand,
): Promise<void> {
  return onRecord(source, kind, id, 'edit', hand, async (manager, { stored, governing, sight }) => {
    if (stored.entity.version !== version) throw Refused.as('record-changed');
    const changed = readRecordValues(kind, raw, stored.record.values, governing, hand.at);
    const tied = company === undefined ? undefined : await tieGiven(manager, 'company', company, sight);
    await writeChanged(manager, stored, changed, governing, handSource(hand), tied);
  });
}

/**
 * The contact or company that a record is to be tied to, locked so that it stays; one that was joined is the one it went into.
 *
 * @returns its id
 * @throws Refused for one out of the user's sight
 */
export async function tieGiven(
  manager: EntityManager,
  kind: TieKind,
  id: number | null,
  sight: Sight,
): Promise<number | null> {
  if (id === null) return null;
  try {
    return (await recordInSight(manager, kind, sight, id, 'write')).id;
  } catch (error) {
    throw error instanceof Refused ? Refused.invalid([{ path: `/${kind}`, message: `is no ${kind} here` }]) : error;
  }
}

/**
 * Writes what was changed on a record, with its history, and makes due what reads it.
 *
 * @param company its company from now on; undefined: it stays
 */
export async function writeChanged(
  manager: EntityManager,
  { kind, entity, record }: StoredUnrouted,
  changed: ReadonlyMap<string, Value>,
  governing: Governing,
  by: ChangeSource,
  company?: number | null,
): Promise<void> {
  const { at } = by;
  const columns = await identityAfter(manager, kind, entity, record.values, changed, governing);
  await writeRecordValues(manager, entity.id, changed, by);
  await forget(
    manager,
    [...changed.keys()].map((field) => [entity.id, field] as const),
  );
  const tie = company !== undefined && 'company' in entity && entity.company !== company ? { company } : {};
  await manager.update(UNROUTED_ENTITIES[kind], entity.id, {
    ...columns,
    ...tie,
    version: entity.version + 1,
    touchedAt: at,
    due: at,
    touched: true,
    changes: entity.changes + 1,
  });
  await insertRows(manager, ChangeEntity, [
    ...[...changed].map(([field, value]) => ({
      ...lineBy(entity.id, by),
      field,
      from: record.values.get(field) ?? null,
      to: value.kind === 'blank' ? null : value,
    })),
  ]);
  await touchAbove(manager, kind, entity, 'company' in tie ? (tie.company ?? null) : null, at);
  await dueBelow(manager, kind, entity.id, [...changed.keys()], governing, at);
  if (kind === 'deal') await decideDeal(manager, entity.id, 'edited', governing, by);
}

/** The columns by which a record is found and called, after its values. */
async function identityAfter(
  manager: EntityManager,
  kind: UnroutedKind,
  entity: UnroutedEntity,
  recordValues: ReadonlyMap<string, Value>,
  changed: ReadonlyMap<string, Value>,
  governing: Governing,
): Promise<Partial<ContactEntity> & Partial<CompanyEntity>> {
  const nameKey = keyOfRole(governing.world.fields, kind, 'name');
  const given = nameKey === null ? undefined : changed.get(nameKey);
  const named = given === undefined ? {} : { name: showValue(given).slice(0, 200) };
  if (kind === 'company' && named.name === '')
    throw Refused.invalid([{ path: `/values/${nameKey ?? 'company.name'}`, message: 'a company needs a name' }]);
  const before = partyKeys(kind, recordValues, governing);
  const keys = partyKeys(kind, new Map([...recordValues, ...changed]), governing);
  // Another edit leaves its identity as it is, also where its leads have not fed its values yet; a namesake is not in its way.
  if (kind === 'deal' || isDeepStrictEqual(keys, before)) return named;
  await refuseKnown(manager, kind, keys, entity.id);
  if (entity instanceof CompanyEntity) {
    await keepCompanyKeys(manager, entity, keys.clue);
    return keys.clue.country === before.clue.country ? named : { ...named, country: keys.clue.country };
  }
  if (keys.email === before.email) return named;
  const { email: known } = entity as ContactEntity;
  // Its leads are found by the address that they came with.
  if (known !== null && known !== keys.email)
    await manager.query('INSERT IGNORE INTO contact_alias (folded, contact) VALUES (?, ?)', [known, entity.id]);
  if (keys.email !== null) await manager.delete(ContactAliasEntity, { folded: keys.email, contact: entity.id });
  return { ...named, email: keys.email };
}

/**
 * Makes due the contact and company that count the activities of a record, before and after a change of its tie.
 *
 * @param other its company after that; null: none
 */
export async function touchAbove(
  manager: EntityManager,
  kind: UnroutedKind,
  entity: UnroutedEntity,
  other: number | null,
  at: Date,
): Promise<void> {
  if (kind === 'company') return;
  const { company } = entity as ContactEntity | DealEntity;
  const contact = entity instanceof DealEntity ? entity.contact : null;
  await touchParties(
    manager,
    [
      { contact, company },
      { contact: null, company: other },
    ],
    at,
  );
}

/**
 * Takes over what a lead says otherwise, or leaves what is known.
 *
 * @throws Refused if nothing stands beside that field
 */
export function settleRecordSaid(
  source: DataSource,
  kind: UnroutedKind,
  id: number,
  field: string,
  take: boolean,
  hand: Hand,
): Promise<void> {
  return onRecord(source, kind, id, 'edit', hand, async (manager, { stored, governing }) => {
    const record = stored.entity.id;
    const said = await manager.findOneBy(SaidValueEntity, { record, field });
    if (said === null) throw Refused.notFound();
    await forget(manager, [[record, field]]);
    if (take) await writeChanged(manager, stored, new Map([[field, said.value]]), governing, handSource(hand));
  });
}
