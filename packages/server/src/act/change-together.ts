import { countryToReadBy, type Field, kindOfField, readValue, type UnroutedKind, type Value } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { type Governing, readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';
import { loadUnrouted } from '../store/load-unrouted';
import { inTransaction } from '../store/transaction';
import { edited } from './act';
import { act } from './acting';
import { handOf } from './cause';
import { writeChanged } from './change-record';
import { handSource } from './change-source';
import type { Hand } from './hand';
import { type Acting, perform } from './perform';

/** One field of many records, and the value that each gets. */
export interface FieldChange {
  readonly field: string;
  /** @returns null: the record stays as it is */
  valueFor(governing: Governing, values: ReadonlyMap<string, Value>): Value | null;
  /** Keeps, in the same transaction, which records were changed. */
  noted?(manager: EntityManager, ids: readonly number[]): Promise<void>;
}

/** Number of records changed in one transaction. */
export const BATCH = 200;

/**
 * Changes a field of records; each lead is decided again.
 *
 * @param ids at most {@link BATCH}
 * @returns in how many
 */
export function changeTogether(
  source: DataSource,
  change: FieldChange,
  ids: readonly number[],
  hand: Hand,
): Promise<number> {
  const kind = kindOfField(change.field);
  return kind === 'lead'
    ? act(source, hand.at, (acting) => changeLeads(acting, ids, change, hand))
    : inTransaction(source, (manager) => changeOthers(manager, kind, ids, change, hand));
}

async function changeOthers(
  manager: EntityManager,
  kind: UnroutedKind,
  ids: readonly number[],
  change: FieldChange,
  hand: Hand,
): Promise<number> {
  const governing = await readGoverning(manager, 'share');
  const records = await loadUnrouted(manager, kind, ids, governing.ready, 'write');
  const changed: number[] = [];
  for (const stored of records) {
    const value = change.valueFor(governing, stored.record.values);
    if (value === null) continue;
    await writeChanged(manager, stored, new Map([[change.field, value]]), governing, handSource(hand));
    changed.push(stored.entity.id);
  }
  await change.noted?.(manager, changed);
  return changed.length;
}

async function changeLeads(acting: Acting, ids: readonly number[], change: FieldChange, hand: Hand): Promise<number> {
  const leads = await loadLeads(acting.manager, ids, 'write');
  const governing = await readGoverning(acting.manager, 'share');
  const acts = leads.flatMap((lead) => {
    const value = change.valueFor(governing, lead.record.values);
    if (value === null) return [];
    return [edited(lead, new Map([[change.field, value]]), 'edited', handOf(hand.user), hand.at)];
  });
  await perform(acting, acts, governing);
  await change.noted?.(
    acting.manager,
    acts.map(({ stored }) => stored?.id ?? 0),
  );
  return acts.length;
}

/** Reads a text for a field of a record, by the country that the record has. */
export function readFor(
  field: Field,
  written: string,
  { world }: Governing,
  values: ReadonlyMap<string, Value>,
  day: string,
): Value {
  const kind = kindOfField(field.key);
  return readValue(
    field,
    written,
    day,
    countryToReadBy(field, world.fields, kind, () => undefined, values),
  );
}
