import type { ImportReport, ImportState } from '@relvik/contracts';
import { fold, type Handling, type RecordKind, type RepKey } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { ownerRefusal } from '../session/rights';
import { sha256, type User } from '../session/session-store';
import { sightOf } from '../session/sight';
import { ImportFileEntity, ImportRowEntity } from '../store/entity/import.entity';
import { PersonEntity } from '../store/entity/people.entity';
import { readGoverning } from '../store/governing';
import { insertRows } from '../store/rows';
import { inTransaction, isDuplicate } from '../store/transaction';
import { readCsvRecords } from './read-csv-records';
import { whatWasWorkedOn } from './undo-import';

/** Notes that a report shows. */
const SHOWN = 500;

/** Says for a name in a file who is meant, or why they can't have a record. */
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
 * Stages a file of records of a kind: its rows are on disk before it is answered, and taken in afterwards by the background job.
 *
 * The same file again, also at the same moment, finds the first import, unless that was undone.
 */
export async function stageFile(
  source: DataSource,
  file: {
    readonly kind: RecordKind;
    readonly name: string;
    readonly text: string;
    readonly handling?: Handling;
  },
  user: User,
  now: Date,
): Promise<ImportState> {
  const { manager } = source;
  // The same text may be of leads and of companies.
  const hash = sha256(file.kind === 'lead' ? file.text : `${file.kind}\n${file.text}`);
  const known = await knownImport(manager, hash);
  if (known !== null) return known;
  const governing = await readGoverning(manager, 'none');
  const { rows, refused } = readCsvRecords(file.text, file.kind, governing, await ownersFor(manager, user));
  const staged = [
    ...rows.map((row) => ({ ...WAITING, ...row })),
    ...refused.map((row) => ({ ...WAITING, ...row, state: 'refused' as const })),
  ];
  try {
    const id = await inTransaction(source, (within) => stage(within, { ...file, hash }, staged, user, now));
    return await stateOf(manager, await manager.findOneByOrFail(ImportFileEntity, { id }));
  } catch (error) {
    const first = isDuplicate(error, 'import_file_once') ? await knownImport(manager, hash) : null;
    if (first === null) throw error;
    return first;
  }
}

/** The import of the same file; null: it did not come before, or was undone. */
async function knownImport(manager: EntityManager, hash: string): Promise<ImportState | null> {
  const known = await manager.findOneBy(ImportFileEntity, { kept: hash });
  return known === null ? null : { ...(await stateOf(manager, known)), again: true };
}

const WAITING = {
  state: 'waiting' as ImportRowEntity['state'],
  values: {},
  ties: null,
  owner: null,
  record: null,
  takenAt: null,
  notes: [],
  replaced: null,
};

/** The file with all its rows, or nothing of it. */
async function stage(
  manager: EntityManager,
  {
    kind,
    name,
    hash,
    handling = 'decide',
  }: Pick<ImportFileEntity, 'kind' | 'name' | 'hash'> & { readonly handling?: Handling },
  rows: readonly Partial<ImportRowEntity>[],
  { key, name: by }: User,
  now: Date,
): Promise<number> {
  const made = await manager.insert(ImportFileEntity, {
    hash,
    kept: hash,
    kind,
    name: name.slice(0, 200),
    handling,
    state: 'running',
    rows: rows.length,
    person: key,
    by,
    at: now,
    endedAt: null,
  });
  const { id } = made.identifiers[0] as { id: number };
  await insertRows(
    manager,
    ImportRowEntity,
    rows.map((row) => ({ ...row, file: id })),
  );
  return id;
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
    kind: file.kind,
    name: file.name,
    handling: file.handling,
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
  return Promise.all(files.map((file) => stateOf(manager, file)));
}

/** The report of an import, with the notes of its rows. */
export async function reportOf(manager: EntityManager, id: number): Promise<ImportReport> {
  const file = await manager.findOneBy(ImportFileEntity, { id });
  if (file === null) throw Refused.notFound();
  const noted = await manager
    .createQueryBuilder(ImportRowEntity, 'one')
    .where("one.file = :id AND one.notes <> '[]'", { id })
    .orderBy('one.row')
    .limit(SHOWN)
    .getMany();
  const notes = noted.flatMap(({ row, state, record, notes: all }) =>
    all.map(({ field, message }) => ({ row, field, message, refused: state === 'refused', record })),
  );
  const worked = file.state === 'done' ? await whatWasWorkedOn(manager, file) : [];
  return { ...(await stateOf(manager, file)), notes, workedOn: worked.slice(0, 20) };
}
