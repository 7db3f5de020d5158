import type { Tagged, TagLeads } from '@relvik/contracts';
import { BLANK, choicesOf, fold, splitChoices, TAGS, type Value, withChoices, withoutChoices } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { rightsOn, sees } from '../session/rights';
import { sightOf } from '../session/sight';
import { readGoverning } from '../store/governing';
import { loadLeads } from '../store/load-leads';
import { edited } from './act';
import { act } from './acting';
import { handOf } from './cause';
import type { Hand } from './hand';
import { type Acting, perform } from './perform';

/** Small batch: bounds how long intake waits for locks. */
const BATCH = 200;

/**
 * Puts tags on leads and takes tags off; each lead that changes is decided again.
 *
 * Those that the user may not edit, and those that are gone, stay as they are and are counted.
 */
export async function tagLeads(source: DataSource, { ids, add, remove }: TagLeads, hand: Hand): Promise<Tagged> {
  const sorted = [...new Set(ids)].sort((a, b) => a - b);
  const words = { add: splitChoices(add.join(';')), remove: splitChoices(remove.join(';')) };
  let [changed, refused] = [0, 0];
  for (let from = 0; from < sorted.length; from += BATCH) {
    const some = sorted.slice(from, from + BATCH);
    const done = await act(source, hand.at, (acting) => tagSome(acting, some, words, hand));
    changed += done.changed;
    refused += done.refused;
  }
  return { changed, unchanged: sorted.length - changed - refused, refused };
}

async function tagSome(
  acting: Acting,
  ids: readonly number[],
  words: Pick<TagLeads, 'add' | 'remove'>,
  hand: Hand,
): Promise<{ readonly changed: number; readonly refused: number }> {
  const leads = await loadLeads(acting.manager, ids, 'write');
  const governing = await readGoverning(acting.manager, 'share');
  const sight = await sightOf(acting.manager, hand.user);
  const editable = leads.filter(({ entity }) => sees(entity, sight) && rightsOn(entity, sight, hand.user).edit);
  const field = governing.world.fields.get(TAGS);
  const spelled = new Map((field?.options ?? []).map((word) => [fold(word), word]));
  const add = words.add.map((word) => spelled.get(fold(word)) ?? word);
  const acts = editable.flatMap((lead) => {
    const before = lead.record.values.get(TAGS);
    const known = before?.kind === 'choices' ? before.texts : [];
    const after = withChoices(withoutChoices(known, words.remove).texts, add);
    if (after.folded === choicesOf(known).folded) return [];
    const value: Value = after.texts.length === 0 ? BLANK : { kind: 'choices', ...after };
    return [edited(lead, new Map([[TAGS, value]]), 'edited', handOf(hand.user), hand.at)];
  });
  await perform(acting, acts, governing);
  return { changed: acts.length, refused: ids.length - editable.length };
}
