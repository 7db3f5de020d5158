import type { SpellingRow, Take, TakeBack, TakePreview } from '@relvik/contracts';
import {
  bindCharter,
  countryOfRegion,
  dayOf,
  type Field,
  fieldsOfList,
  keyOfRole,
  kindOfField,
  readValue,
  showValue,
  spellingKey,
  spellingList,
  splitChoices,
  unknownPart,
} from '@relvik/core';
import { type DataSource, type EntityManager, In } from 'typeorm';
import { unreadableValues } from '../store/unreadable-values';
import { Refused } from '../problem/refused';
import { SpellingCorrectionEntity, SpellingEntity } from '../store/entity/catalogue.entity';
import { charterInForce, readFields, readWorldOutside } from '../store/governing';
import { insertRows } from '../store/rows';
import { inTransaction } from '../store/transaction';
import { UNREADABLE } from '../store/value-row';
import { BATCH, changeTogether, readFor } from './change-together';
import { changeUnreadable } from './correct-together';
import type { Hand } from './hand';

/** Options, countries and regions do not depend on the day on which they were entered. */
const NO_DAY = '2000-01-01';

export type Spelling = Pick<SpellingEntity, 'list' | 'folded' | 'written' | 'means'>;

/**
 * What a text is to stand for in a field.
 *
 * @throws Refused where the field has no list, that is nothing on it, or the text stands for something already
 */
export async function spellingFor(manager: EntityManager, { field: key, raw, means }: Take): Promise<Spelling> {
  const refuse = (path: string, message: string): never => {
    throw Refused.invalid([{ path, message }]);
  };
  const field = (await readFields(manager)).get(key);
  if (field === undefined || field.retired) return refuse('/field', 'is no field');
  const meant = readValue(field, means, NO_DAY);
  if (meant.kind === 'unreadable') return refuse('/means', meant.why);
  const shown = showValue(meant);
  const list = spellingList(field, shown);
  if (list === null) return refuse('/field', 'has no list to choose from');
  if (meant.kind === 'choices' && meant.texts.length > 1) return refuse('/means', 'must be one option');
  const written = unknownPart(field, raw);
  const folded = spellingKey(written);
  if (folded === '') return refuse('/raw', 'has neither letters nor digits');
  const country = field.type === 'region' ? countryOfRegion(shown) : null;
  const known = readValue({ ...field, spellings: [] }, written, NO_DAY, country);
  if (known.kind !== 'unreadable') return refuse('/raw', `stands for ${showValue(known)} already`);
  return { list, folded, written, means: shown };
}

/** The texts that wait with a spelling in the fields of its list, by field. */
async function waitingTexts(
  manager: EntityManager,
  { list, folded }: Pick<Spelling, 'list' | 'folded'>,
): Promise<readonly { readonly field: Field; readonly raws: readonly string[] }[]> {
  const fields = fieldsOfList((await readFields(manager)).values(), list);
  const rows = await unreadableValues<{ field: string; shown: string }>(
    manager,
    fields,
    'SELECT v.field, MIN(v.shown) AS shown FROM VALUES',
    'GROUP BY v.field, BINARY v.shown',
  );
  const isSpelledSo = (field: Field, shown: string): boolean =>
    (field.type === 'choices' ? splitChoices(shown) : [shown]).some((part) => spellingKey(part) === folded);
  return fields.flatMap((field) => {
    const raws = rows.flatMap(({ field: key, shown }) =>
      key === field.key && isSpelledSo(field, shown) ? [shown] : [],
    );
    return raws.length === 0 ? [] : [{ field, raws }];
  });
}

/** What taking a text for something would correct. */
export async function previewTake(manager: EntityManager, take: Take): Promise<TakePreview> {
  const spelling = await spellingFor(manager, take);
  const fields = await readFields(manager);
  const corrects: TakePreview['corrects'][number][] = [];
  let others = 0;
  for (const { field, raws } of await waitingTexts(manager, spelling)) {
    const kind = kindOfField(field.key);
    const country = keyOfRole(fields, kind, 'country');
    const isRegion = field.type === 'region' && country !== null;
    const [row] = await manager.query<{ records: number; here: string | null; in_bay: string | null }[]>(
      `SELECT COUNT(*) AS records, SUM(here) AS here, SUM(here AND bay) AS in_bay FROM (
         SELECT ${kind === 'lead' ? "l.place = 'bay'" : '0'} AS bay,
           ${isRegion ? "c.record IS NULL OR c.kind = 'unreadable' OR c.folded = ?" : '1'} AS here
         FROM (SELECT record FROM field_value WHERE field = ? AND ${UNREADABLE} AND BINARY shown IN (?)) v
         ${kind === 'lead' ? 'JOIN `lead` l ON l.id = v.record' : ''}
         ${isRegion ? 'LEFT JOIN field_value c ON c.record = v.record AND c.field = ?' : ''}) x`,
      [
        ...(isRegion ? [countryOfRegion(spelling.means).toLowerCase()] : []),
        ...[field.key, raws],
        ...(isRegion ? [country] : []),
      ],
    );
    const here = Number(row?.here ?? 0);
    others += (row?.records ?? 0) - here;
    if (here > 0) corrects.push({ field: field.key, records: here, inBay: Number(row?.in_bay ?? 0) });
  }
  return { corrects, others };
}

/**
 * From now on a text stands for an entry of its field's list, in every field of that list, and wherever it waits. Done again, it goes on
 * where it was interrupted.
 *
 * @returns how many values were corrected
 */
export async function takeSpelling(
  source: DataSource,
  take: Take,
  hand: Hand,
): Promise<{ readonly spelling: Spelling; readonly corrected: number }> {
  const spelling = await spellingFor(source.manager, take);
  await source.manager.save(SpellingEntity, spelling);
  return { spelling, corrected: await correctWaiting(source, spelling, hand) };
}

/** Corrects every value that waits with a spelling. */
export async function correctWaiting(
  source: DataSource,
  { list, folded }: Pick<Spelling, 'list' | 'folded'>,
  hand: Hand,
): Promise<number> {
  let corrected = 0;
  for (const { field, raws } of await waitingTexts(source.manager, { list, folded }))
    for (const raw of raws)
      corrected += await changeUnreadable(
        source,
        {
          field: field.key,
          valueFor(governing, values) {
            const known = governing.world.fields.get(field.key) ?? field;
            const day = dayOf(hand.at.getTime(), governing.ready.charter.timeZone);
            const value = readFor(known, raw, governing, values, day);
            return value.kind === 'unreadable' ? null : value;
          },
          async noted(manager, records) {
            if (records.length === 0) return;
            // One that was corrected before, and then written so again, is kept once.
            await manager.delete(SpellingCorrectionEntity, {
              list,
              folded,
              record: In([...records]),
              field: field.key,
            });
            const kept = records.map((record) => ({ list, folded, record, field: field.key, raw }));
            await insertRows(manager, SpellingCorrectionEntity, kept);
          },
        },
        raw,
        hand,
      );
  return corrected;
}

/** @throws Refused if the charter in force can no longer be used */
export async function refuseIfNeededInForce(manager: EntityManager): Promise<void> {
  const { body } = await charterInForce(manager, 'share');
  const binding = bindCharter(body, await readWorldOutside(manager));
  if (binding.ok) return;
  const places = binding.problems.map(({ path, message }) => `${path} ${message}`);
  throw Refused.as('needed-in-force', { detail: `Change the charter first: ${places.slice(0, 5).join('; ')}` });
}

/**
 * Takes a spelling back: values that it corrected, and that nobody changed since, become again what they were.
 *
 * @returns how many did
 */
export async function takeBackSpelling(source: DataSource, { list, written }: TakeBack, hand: Hand): Promise<number> {
  const at = { list, folded: spellingKey(written) };
  const means = await inTransaction(source, async (manager) => {
    const known = await manager.findOneBy(SpellingEntity, at);
    if (known === null) throw Refused.notFound();
    await manager.delete(SpellingEntity, at);
    await refuseIfNeededInForce(manager);
    return known.means;
  });
  let restored = 0;
  for (;;) {
    const rows = await source.manager.find(SpellingCorrectionEntity, {
      where: at,
      order: { record: 'ASC' },
      take: BATCH,
    });
    if (rows.length === 0) return restored;
    for (const field of new Set(rows.map((row) => row.field)))
      restored += await restore(source, rows, field, means, hand);
    await source.manager.remove(rows);
  }
}

/** Puts what one field held before a spelling in its place again. */
async function restore(
  source: DataSource,
  rows: readonly SpellingCorrectionEntity[],
  key: string,
  means: string,
  hand: Hand,
): Promise<number> {
  const own = rows.filter(({ field }) => field === key);
  let restored = 0;
  for (const raw of new Set(own.map((row) => row.raw)))
    restored += await changeTogether(
      source,
      {
        field: key,
        valueFor(governing, values) {
          const field = governing.world.fields.get(key);
          const value = values.get(key);
          if (field === undefined || value === undefined) return null;
          const stands = value.kind === 'choices' ? value.texts.includes(means) : showValue(value) === means;
          const before = readFor(field, raw, governing, values, NO_DAY);
          return stands && before.kind === 'unreadable' ? before : null;
        },
      },
      own.flatMap((row) => (row.raw === raw ? [row.record] : [])),
      hand,
    );
  return restored;
}

/** All spellings, with how many values each corrected. */
export async function spellingRows(manager: EntityManager): Promise<SpellingRow[]> {
  const rows = await manager.query<(Spelling & { corrected: string })[]>(
    `SELECT s.list, s.written, s.means,
       (SELECT COUNT(*) FROM spelling_correction c WHERE c.list = s.list AND c.folded = s.folded) AS corrected
     FROM spelling s ORDER BY s.list, s.means, s.folded`,
  );
  return rows.map(({ list, written, means, corrected }) => ({ list, written, means, corrected: Number(corrected) }));
}
