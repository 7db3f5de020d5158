import type { ImportReport, ImportState } from '@relvik/contracts';
import { fold, type RepKey } from '@relvik/core';
import { type DataSource, type EntityManager, In } from 'typeorm';
import { Refused } from '../problem/refused';
import { ownerRefusal } from '../session/rights';
import { sha256, type User } from '../session/session-store';
import { sightOf } from '../session/sight';
import { ImportFileEntity, ImportRowEntity } from '../store/entity/import.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { readGoverning } from '../store/governing';
import { insertRows } from '../store/rows';
import { inTransaction } from '../store/transaction';
import { readCsvLeads } from './read-csv-leads';
import { whatWasWorkedOn } from './undo-import';

/** Rows staged at once: the next requests come in between. */
const STAGED = 1000;
/** Notes that a report shows. */
const SHOWN = 500;

/** Says for a name in a file whose leads they may be. */
async function ownersFor(
  manager: EntityManager,
  user: User,
): Promise<(named: string) => { rep: RepKey } | { refusal: string }> {
  const [people, sight] = await Promise.all([manager.findBy(PersonEntity, { retired: false }), sightOf(manager, user)]);
  const byName = new Map(people.flatMap((one) => [one.key, fold(one.name), one.email].map((name) => [name, one])));
  return (named) => {
    const person = byName.get(fold(named));
    if (person === undefined) return { refusal: `nobody here is called “${named}”` };
    const refusal = ownerRefusal(person, sight);
    return refusal === null ? { rep: person.key as RepKey } : { refusal };
  };
}

/**
 * Stages a file of leads: its rows are on disk before it is answered, and taken in afterwards by the background job.
 *
 * The same file again finds the first import, unless that was undone. A file whose staging was cut off is staged anew.
 */
export async function stageFile(
  source: DataSource,
  file: { readonly name: string; readonly text: string },
  user: User,
  now: Date,
): Promise<ImportState> {
  const { manager } = source;
  const hash = sha256(file.text);
  const known = await manager.findOne(ImportFileEntity, {
    where: { hash, state: In(['running', 'done', 'undoing']) },
    order: { id: 'DESC' },
  });
  if (known !== null) return { ...(await stateOf(manager, known)), again: true };

  const governing = await readGoverning(manager, 'none');
  const { rows, refused } = readCsvLeads(file.text, governing, await ownersFor(manager, user));
  const id = await beginStaging(source, hash, file.name, rows.length + refused.length, user, now);
  const staged = [
    ...rows.map(({ row, values, owner }) => ({ ...WAITING, file: id, row, values, owner })),
    ...refused.map(({ row, notes }) => ({ ...WAITING, file: id, row, state: 'refused' as const, notes })),
  ];
  for (let i = 0; i < staged.length; i += STAGED)
    await insertRows(manager, ImportRowEntity, staged.slice(i, i + STAGED));
  await manager.update(ImportFileEntity, { id, state: 'staging' }, { state: 'running' });
  return stateOf(manager, await manager.findOneByOrFail(ImportFileEntity, { id }));
}

const WAITING = {
  state: 'waiting' as const,
  values: {},
  owner: null,
  lead: null,
  takenAt: null,
  notes: [],
  replaced: null,
};

/** The file's row; what is left of a staging that was cut off goes away. */
function beginStaging(
  source: DataSource,
  hash: string,
  name: string,
  rows: number,
  { key, name: by }: User,
  now: Date,
): Promise<number> {
  return inTransaction(source, async (manager) => {
    const cut = await manager.find(ImportFileEntity, { where: { hash, state: 'staging', person: key } });
    if (cut.length > 0) {
      const ids = In(cut.map(({ id }) => id));
      await manager.delete(ImportRowEntity, { file: ids });
      await manager.delete(ImportFileEntity, { id: ids });
    }
    const made = await manager.insert(ImportFileEntity, {
      hash,
      name: name.slice(0, 200),
      state: 'staging',
      rows,
      person: key,
      by,
      at: now,
      endedAt: null,
    });
    return (made.identifiers[0] as { id: number }).id;
  });
}

async function countsOf(manager: EntityManager, file: number): Promise<Map<ImportRowEntity['state'], number>> {
  const rows = await manager.query<{ state: ImportRowEntity['state']; n: string }[]>(
    'SELECT state, COUNT(*) AS n FROM import_row WHERE file = ? GROUP BY state',
    [file],
  );
  return new Map(rows.map(({ state, n }) => [state, Number(n)]));
}

async function stateOf(manager: EntityManager, file: ImportFileEntity): Promise<ImportState> {
  const counts = await countsOf(manager, file.id);
  const of = (state: ImportRowEntity['state']): number => counts.get(state) ?? 0;
  return {
    id: file.id,
    name: file.name,
    state: file.state,
    by: file.by,
    at: file.at.getTime(),
    endedAt: file.endedAt?.getTime() ?? null,
    rows: file.rows,
    waiting: of('waiting'),
    accepted: of('accepted') + of('joined'),
    joined: of('joined'),
    refused: of('refused'),
    undone: of('undone'),
    kept: of('kept'),
    again: false,
  };
}

/** The latest imports, newest first. */
export async function listImports(manager: EntityManager): Promise<ImportState[]> {
  const files = await manager.find(ImportFileEntity, { order: { id: 'DESC' }, take: 10 });
  return Promise.all(files.filter(({ state }) => state !== 'staging').map((file) => stateOf(manager, file)));
}

/** What became of a file, row by row where there is something to say. */
export async function reportOf(manager: EntityManager, id: number): Promise<ImportReport> {
  const file = await manager.findOneBy(ImportFileEntity, { id });
  if (file === null || file.state === 'staging') throw Refused.notFound();
  const noted = await manager
    .createQueryBuilder(ImportRowEntity, 'one')
    .where("one.file = :id AND one.notes <> '[]'", { id })
    .orderBy('one.row')
    .limit(SHOWN)
    .getMany();
  const notes = noted.flatMap(({ row, state, lead, notes: all }) =>
    all.map(({ field, message }) => ({ row, field, message, refused: state === 'refused', lead })),
  );
  const worked = file.state === 'done' ? await whatWasWorkedOn(manager, file) : [];
  return { ...(await stateOf(manager, file)), notes, workedOn: worked.slice(0, 20) };
}
