import { dayOf, type Field, fieldsOfList, type ListedSpelling, spellingKey, splitChoices } from '@relvik/core';
import { type DataSource, type EntityManager, In } from 'typeorm';
import { SpellingCorrectionEntity } from '../store/entity/catalogue.entity';
import { readFields } from '../store/governing';
import { insertRows } from '../store/rows';
import { unreadableValues } from '../store/unreadable-values';
import { readFor } from './change-together';
import { changeUnreadable } from './correct-together';
import type { Hand } from './hand';

/** A text that can't be read, and the spelling by which it could be. */
export interface WaitingText {
  readonly field: Field;
  readonly raw: string;
  readonly spelling: ListedSpelling;
}

/** The texts that wait for any of some spellings, in the fields of their lists. */
export async function waitingTexts(
  manager: EntityManager,
  spellings: readonly ListedSpelling[],
): Promise<readonly WaitingText[]> {
  const catalogue = await readFields(manager);
  // By the field, and by the form of the text.
  const byField = new Map<string, Map<string, ListedSpelling>>();
  for (const spelling of spellings)
    for (const { key } of fieldsOfList(catalogue.values(), spelling.list)) {
      const known = byField.get(key) ?? new Map<string, ListedSpelling>();
      byField.set(key, known.set(spelling.folded, spelling));
    }
  const fields = [...byField.keys()].flatMap((key) => catalogue.get(key) ?? []);
  const rows = await unreadableValues<{ field: string; shown: string }>(
    manager,
    fields,
    'SELECT v.field, MIN(v.shown) AS shown FROM VALUES',
    'GROUP BY v.field, BINARY v.shown',
  );
  return rows.flatMap(({ field: key, shown: raw }) => {
    const field = catalogue.get(key);
    const parts = field?.type === 'choices' ? splitChoices(raw) : [raw];
    const spelling = parts.flatMap((part) => byField.get(key)?.get(spellingKey(part)) ?? [])[0];
    return field === undefined || spelling === undefined ? [] : [{ field, raw, spelling }];
  });
}

/**
 * Corrects every value that waits for one of some spellings, which must be stored. Which were corrected is kept.
 *
 * @returns how many
 */
export async function correctWaiting(
  source: DataSource,
  spellings: readonly ListedSpelling[],
  hand: Hand,
): Promise<number> {
  let corrected = 0;
  for (const { field, raw, spelling } of await waitingTexts(source.manager, spellings)) {
    const change = {
      field: field.key,
      valueFor: (governing, values) => {
        const known = governing.world.fields.get(field.key) ?? field;
        const day = dayOf(hand.at.getTime(), governing.ready.charter.timeZone);
        const value = readFor(known, raw, governing, values, day);
        return value.kind === 'unreadable' ? null : value;
      },
      noted: (manager, records) => keepCorrections(manager, { field, raw, spelling }, records),
    } satisfies Parameters<typeof changeUnreadable>[1];
    corrected += await changeUnreadable(source, change, raw, hand);
  }
  return corrected;
}

async function keepCorrections(
  manager: EntityManager,
  { field, raw, spelling: { list, folded, means } }: WaitingText,
  records: readonly number[],
): Promise<void> {
  if (records.length === 0) return;
  // A value that was corrected before, and written the same way again since, is kept once.
  await manager.delete(SpellingCorrectionEntity, { list, folded, record: In([...records]), field: field.key });
  const rows = records.map((record) => ({ list, folded, record, field: field.key, raw, means }));
  await insertRows(manager, SpellingCorrectionEntity, rows);
}
