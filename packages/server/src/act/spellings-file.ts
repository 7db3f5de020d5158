import type { SpellingsFile, SpellingsRead } from '@relvik/contracts';
import { type Catalogue, fieldsOfList, type ListedSpelling, readSpelling, spellingKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { SpellingEntity } from '../store/entity/catalogue.entity';
import { readFields } from '../store/governing';
import { correctWaiting } from './correct-by-spellings';
import type { Hand } from './hand';

/** Reads spellings from a file, row by row: problems are returned beside their rows. Applied, the valid ones are added; none is removed. */
export async function readSpellingsFile(
  source: DataSource,
  { rows, apply }: SpellingsFile,
  hand: Hand,
): Promise<Omit<SpellingsRead, 'spellings'>> {
  const { manager } = source;
  const [fields, stored] = await Promise.all([readFields(manager), manager.find(SpellingEntity)]);
  const known = new Map(stored.map((one) => [`${one.list} ${one.folded}`, one.means]));
  const problems: { row: number; message: string }[] = [];
  const changed: { written: string; from: string; to: string }[] = [];
  const taken = new Map<string, ListedSpelling>();
  let [fresh, same] = [0, 0];
  for (const [i, row] of rows.entries()) {
    const read = readRow(row, fields);
    if (typeof read === 'string') {
      problems.push({ row: i + 1, message: read });
      continue;
    }
    const id = `${read.list} ${read.folded}`;
    const before = known.get(id);
    known.set(id, read.means);
    if (before === read.means) {
      same += 1;
      continue;
    }
    if (before === undefined) fresh += 1;
    else changed.push({ written: read.written, from: before, to: read.means });
    taken.set(id, read);
  }
  if (!apply) return { fresh, changed, known: same, problems, corrected: 0 };
  await manager.save(SpellingEntity, [...taken.values()]);
  return { fresh, changed, known: same, problems, corrected: await correctWaiting(source, [...taken.values()], hand) };
}

/** The spelling of a row, or what is wrong with it. */
function readRow({ list, written, means }: SpellingsFile['rows'][number], fields: Catalogue): ListedSpelling | string {
  const key = list.trim();
  const [field] = fieldsOfList(fields.values(), key);
  if (field === undefined) return `is no list with spellings: ${key}`;
  const read = readSpelling(field, written.trim(), means.trim());
  if (!read.ok) return `${read.at === 'raw' ? 'written' : read.at} ${read.why}`;
  const isOfList = read.spelling.list === key && read.spelling.folded === spellingKey(written);
  return isOfList ? read.spelling : `means ${means} is not in the list ${key}`;
}
