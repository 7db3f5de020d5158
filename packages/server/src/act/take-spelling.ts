import type { SpellingRow, Take, TakeBack, TakePreview } from '@relvik/contracts';
import {
  countryOfRegion,
  keyOfRole,
  kindOfField,
  type ListedSpelling,
  readSpelling,
  showValue,
  spellingKey,
} from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { SpellingCorrectionEntity, SpellingEntity } from '../store/entity/catalogue.entity';
import { readFields } from '../store/governing';
import { inTransaction } from '../store/transaction';
import { UNREADABLE } from '../store/value-row';
import { BATCH, changeTogether, readFor } from './change-together';
import { correctWaiting, waitingTexts } from './correct-by-spellings';
import type { Hand } from './hand';
import { refuseIfNeededInForce } from './needed-in-force';

/** @throws Refused where the field has no list, its list has no such entry, or the text stands for something already */
async function spellingOf(manager: EntityManager, { field: key, raw, means }: Take): Promise<ListedSpelling> {
  const field = (await readFields(manager)).get(key);
  if (field === undefined || field.retired) throw Refused.invalid([{ path: '/field', message: 'is no field' }]);
  const read = readSpelling(field, raw, means);
  if (!read.ok) throw Refused.invalid([{ path: `/${read.at}`, message: read.why }]);
  return read.spelling;
}

/** The number of values that a spelling would correct, by field. */
export async function previewTake(manager: EntityManager, take: Take): Promise<TakePreview> {
  const spelling = await spellingOf(manager, take);
  const fields = await readFields(manager);
  const waiting = await waitingTexts(manager, [spelling]);
  const corrects: TakePreview['corrects'][number][] = [];
  let others = 0;
  for (const field of new Set(waiting.map((one) => one.field))) {
    const kind = kindOfField(field.key);
    const country = keyOfRole(fields, kind, 'country');
    const isRegion = field.type === 'region' && country !== null;
    const raws = waiting.flatMap((one) => (one.field === field ? [one.raw] : []));
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
 * Adds a spelling to the list of a field, and corrects all values that wait for it. Added again, it continues where it was interrupted.
 *
 * @returns how many values were corrected
 */
export async function takeSpelling(
  source: DataSource,
  take: Take,
  hand: Hand,
): Promise<{ readonly spelling: ListedSpelling; readonly corrected: number }> {
  const spelling = await spellingOf(source.manager, take);
  await source.manager.save(SpellingEntity, spelling);
  return { spelling, corrected: await correctWaiting(source, [spelling], hand) };
}

/**
 * Removes a spelling: the values that it corrected, and that nobody changed since, become again what they were. Done again, it continues
 * where it was interrupted.
 *
 * @returns how many values were restored
 */
export async function takeBackSpelling(source: DataSource, { list, written }: TakeBack, hand: Hand): Promise<number> {
  const at = { list, folded: spellingKey(written) };
  await inTransaction(source, async (manager) => {
    const { affected } = await manager.delete(SpellingEntity, at);
    if (affected === 0 && !(await manager.existsBy(SpellingCorrectionEntity, at))) throw Refused.notFound();
    await refuseIfNeededInForce(manager);
  });
  let restored = 0;
  for (;;) {
    const rows = await source.manager.find(SpellingCorrectionEntity, {
      where: at,
      order: { record: 'ASC' },
      take: BATCH,
    });
    if (rows.length === 0) return restored;
    for (const field of new Set(rows.map((row) => row.field))) restored += await restore(source, rows, field, hand);
    await source.manager.remove(rows);
  }
}

/** Restores what one field of some records held before it was corrected. */
async function restore(
  source: DataSource,
  rows: readonly SpellingCorrectionEntity[],
  key: string,
  hand: Hand,
): Promise<number> {
  const own = rows.filter(({ field }) => field === key);
  let restored = 0;
  for (const { raw, means } of distinct(own))
    restored += await changeTogether(
      source,
      {
        field: key,
        valueFor(governing, values) {
          const field = governing.world.fields.get(key);
          const value = values.get(key);
          if (field === undefined || value === undefined) return null;
          const stands = value.kind === 'choices' ? value.texts.includes(means) : showValue(value) === means;
          // Unreadable values are the same on every day.
          const before = readFor(field, raw, governing, values, '2000-01-01');
          return stands && before.kind === 'unreadable' ? before : null;
        },
      },
      own.flatMap((row) => (row.raw === raw && row.means === means ? [row.record] : [])),
      hand,
    );
  return restored;
}

function distinct(rows: readonly SpellingCorrectionEntity[]): readonly SpellingCorrectionEntity[] {
  return [...new Map(rows.map((row) => [JSON.stringify([row.raw, row.means]), row])).values()];
}

/** All spellings, with how many values each corrected. */
export async function spellingRows(manager: EntityManager): Promise<SpellingRow[]> {
  const rows = await manager.query<(Omit<SpellingRow, 'corrected'> & { readonly corrected: string })[]>(
    `SELECT s.list, s.written, s.means,
       (SELECT COUNT(*) FROM spelling_correction c WHERE c.list = s.list AND c.folded = s.folded) AS corrected
     FROM spelling s ORDER BY s.list, s.means, s.folded`,
  );
  return rows.map((row) => ({ ...row, corrected: Number(row.corrected) }));
}
