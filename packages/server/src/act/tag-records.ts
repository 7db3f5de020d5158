import type { Tagged, TagMany } from '@relvik/contracts';
import {
  BLANK,
  fold,
  recombined,
  splitChoices,
  TAGS,
  tagsOf,
  type RecordKind,
  type UnroutedKind,
  type Value,
} from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { rightsOnRecord } from '../session/record-rights';
import { rightsOn, sees } from '../session/rights';
import { recordsInSight, sightOf } from '../session/sight';
import { type Governing, readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';
import { loadUnrouted } from '../store/load-unrouted';
import { inTransaction } from '../store/transaction';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { edited } from './act';
import { act } from './acting';
import { handOf } from './cause';
import { writeChanged } from './change-record';
import { handSource } from './change-source';
import type { Hand } from './hand';
import { type Acting, perform } from './perform';

/** Small batch: bounds how long intake waits for locks. */
const BATCH = 200;

type Words = Pick<TagMany, 'add' | 'remove'>;

/**
 * Puts tags on records of one kind and takes tags off; leads that change are decided again, others scored again.
 *
 * Those that the user may not edit, and those that are gone, stay as they are and are counted.
 */
export async function tagRecords(
  source: DataSource,
  kind: RecordKind,
  { ids, add, remove }: TagMany,
  hand: Hand,
): Promise<Tagged> {
  const sorted = [...new Set(ids)].sort((a, b) => a - b);
  const words = { add: splitChoices(add.join(';')), remove: splitChoices(remove.join(';')) };
  let [changed, refused] = [0, 0];
  for (let from = 0; from < sorted.length; from += BATCH) {
    const some = sorted.slice(from, from + BATCH);
    const done =
      kind === 'lead'
        ? await act(source, hand.at, (acting) => tagLeads(acting, some, words, hand))
        : await inTransaction(source, (manager) => tagUnrouted(manager, kind, some, words, hand));
    changed += done.changed;
    refused += done.refused;
  }
  return { changed, unchanged: sorted.length - changed - refused, refused };
}

/** Tags in the spelling that came first. */
function spelled(add: readonly string[], kind: RecordKind, { world }: Governing): readonly string[] {
  const known = new Map((world.fields.get(tagsOf(kind))?.options ?? []).map((word) => [fold(word), word]));
  return add.map((word) => known.get(fold(word)) ?? word);
}

/** The tags of a record as they are afterwards; null: as before. */
function retagged(before: Value | undefined, words: Words): Value | null {
  const after = recombined(before?.kind === 'choices' ? before.texts : [], words);
  if (after === null) return null;
  return after.texts.length === 0 ? BLANK : { kind: 'choices', ...after };
}

async function tagUnrouted(
  manager: EntityManager,
  kind: UnroutedKind,
  ids: readonly number[],
  { add, remove }: Words,
  hand: Hand,
): Promise<{ readonly changed: number; readonly refused: number }> {
  const governing = await readGoverning(manager, 'share');
  const sight = await sightOf(manager, hand.user);
  const query = manager.createQueryBuilder(UNROUTED_ENTITIES[kind], 'r').where('r.id IN (:...ids)', { ids });
  const seen = await recordsInSight(query, kind, sight).orderBy('r.id').setLock('pessimistic_write').getMany();
  const editable: number[] = [];
  for (const entity of seen)
    if ((await rightsOnRecord(manager, kind, entity, sight, hand.user)).edit) editable.push(entity.id);
  const words = { add: spelled(add, kind, governing), remove };
  let changed = 0;
  for (const stored of await loadUnrouted(manager, kind, editable, governing.ready)) {
    const value = retagged(stored.record.values.get(tagsOf(kind)), words);
    if (value === null) continue;
    await writeChanged(manager, stored, new Map([[tagsOf(kind), value]]), governing, handSource(hand));
    changed += 1;
  }
  return { changed, refused: ids.length - editable.length };
}

async function tagLeads(
  acting: Acting,
  ids: readonly number[],
  { add, remove }: Words,
  hand: Hand,
): Promise<{ readonly changed: number; readonly refused: number }> {
  const leads = await loadLeads(acting.manager, ids, 'write');
  const governing = await readGoverning(acting.manager, 'share');
  const sight = await sightOf(acting.manager, hand.user);
  const editable = leads.filter(({ entity }) => sees(entity, sight) && rightsOn(entity, sight, hand.user).edit);
  const words = { add: spelled(add, 'lead', governing), remove };
  const acts = editable.flatMap((lead) => {
    const value = retagged(lead.record.values.get(TAGS), words);
    return value === null ? [] : [edited(lead, new Map([[TAGS, value]]), 'edited', handOf(hand.user), hand.at)];
  });
  await perform(acting, acts, governing);
  return { changed: acts.length, refused: ids.length - editable.length };
}
