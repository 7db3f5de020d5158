import type { SpellingsFile, SpellingsRead } from '@relvik/contracts';
import { fieldsOfList, spellingKey } from '@relvik/core';
import type { DataSource } from 'typeorm';
import { Refused } from '../problem/refused';
import { SpellingEntity } from '../store/entity/catalogue.entity';
import { readFields } from '../store/governing';
import type { Hand } from './hand';
import { correctWaiting, type Spelling, spellingFor } from './take-spelling';

type Row = SpellingsFile['rows'][number];

/**
 * Reads spellings from a file, row by row. Applied, those that are right come into force; none is taken away.
 *
 * @throws Refused for none: what is wrong with a row stands beside it
 */
export async function readSpellingsFile(
  source: DataSource,
  { rows, apply }: SpellingsFile,
  hand: Hand,
): Promise<Omit<SpellingsRead, 'spellings'>> {
  const known = new Map(
    (await source.manager.find(SpellingEntity)).map((one) => [`${one.list} ${one.folded}`, one.means]),
  );
  const problems: { row: number; message: string }[] = [];
  const changed: { written: string; from: string; to: string }[] = [];
  const taken: Spelling[] = [];
  let same = 0;
  for (const [i, row] of rows.entries()) {
    const read = await readRow(source, row);
    if ('message' in read) {
      problems.push({ row: i + 1, message: read.message });
      continue;
    }
    const id = `${read.list} ${read.folded}`;
    const before = known.get(id);
    if (before === read.means) same += 1;
    else taken.push(read);
    if (before !== undefined && before !== read.means)
      changed.push({ written: read.written, from: before, to: read.means });
    known.set(id, read.means);
  }
  let corrected = 0;
  if (apply)
    for (const spelling of taken) {
      await source.manager.save(SpellingEntity, spelling);
      corrected += await correctWaiting(source, spelling, hand);
    }
  return { fresh: taken.length - changed.length, changed, known: same, problems, corrected };
}

async function readRow(source: DataSource, row: Row): Promise<Spelling | { readonly message: string }> {
  const list = row.list.trim();
  const fields = fieldsOfList((await readFields(source.manager)).values(), list);
  const [field] = fields;
  if (field === undefined) return { message: `is no list with spellings: ${list}` };
  try {
    const read = await spellingFor(source.manager, {
      field: field.key,
      raw: row.written.trim(),
      means: row.means.trim(),
    });
    return read.list === list && spellingKey(row.written) === read.folded
      ? read
      : { message: `${row.means} is not of the list ${list}` };
  } catch (error) {
    if (!(error instanceof Refused)) throw error;
    return {
      message:
        error.problem.errors?.map(({ path, message }) => `${path.slice(1)} ${message}`).join('; ') ?? error.message,
    };
  }
}
