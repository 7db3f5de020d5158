import type { CharterRow, CharterState, Draft } from '@relvik/contracts';
import {
  type BroughtUpToDate,
  bringUpToDate,
  type Charter,
  charterFindings,
  placeInCharter,
  type Problem,
  readCharter,
} from '@relvik/core';
import { type CharterFile, charterFile, readCharterFile } from '@relvik/formats';
import { type DataSource, type EntityManager, IsNull, Not } from 'typeorm';
import type { ProblemCode } from '../problem/problems';
import { Refused } from '../problem/refused';
import { inTransaction } from '../store/transaction';
import { sha256, type User } from '../session/session-store';
import { CharterEntity, OpenDraftEntity } from '../store/entity/charter.entity';
import { charterInForce, readWorldOutside } from '../store/governing';
import { note } from './journal';

type WorldOutside = Awaited<ReturnType<typeof readWorldOutside>>;

/** @param charter as it was sent */
function refusedCharter(problems: readonly Problem[], code: ProblemCode, charter: unknown): Refused {
  const errors = problems.map(({ path, message }) => {
    const { words } = placeInCharter(charter, path);
    return { path: `/charter${path}`, message: words === '' ? message : `${words}: ${message}` };
  });
  return Refused.as(code, { errors });
}

function rowOf(charter: CharterEntity, open: readonly OpenDraftEntity[]): CharterRow {
  const { id, name, note: about, author, changedAt, base, number, enactedAt, reason } = charter;
  return {
    id,
    name,
    note: about,
    author,
    changedAt: changedAt.getTime(),
    base,
    number,
    enactedAt: enactedAt?.getTime() ?? null,
    reason,
    openFor: open.filter((one) => one.charter === id).map((one) => one.person),
  };
}

/** The charter in force, the draft that the user has open, and the lists of all others. */
export async function charterState(manager: EntityManager, user: User): Promise<CharterState> {
  const inForce = await charterInForce(manager, 'none');
  const world = await readWorldOutside(manager);
  const open = await manager.find(OpenDraftEntity);
  const mine = open.find((one) => one.person === user.key);
  const [draft, drafts, past] = await Promise.all([
    mine === undefined ? null : manager.findOneBy(CharterEntity, { id: mine.charter, number: IsNull() }),
    manager.find(CharterEntity, { where: { number: IsNull() }, order: { changedAt: 'DESC' } }),
    manager.find(CharterEntity, {
      where: { number: Not(IsNull()), inForce: IsNull() },
      order: { number: 'DESC' },
      take: 200,
    }),
  ]);
  return {
    inForce: {
      id: inForce.id,
      number: inForce.number ?? 0,
      enactedAt: (inForce.enactedAt ?? inForce.changedAt).getTime(),
      charter: inForce.body,
    },
    draft: draft && describeDraft(draft, inForce, world),
    drafts: drafts.map((one) => rowOf(one, open)),
    past: past.map((one) => rowOf(one, open)),
  };
}

function describeDraft(draft: CharterEntity, inForce: CharterEntity, world: WorldOutside): Draft {
  const { id, version, base, author, note: about, changedAt, body } = draft;
  return {
    id,
    version,
    base,
    author,
    note: about,
    changedAt: changedAt.getTime(),
    charter: body,
    stale: base !== inForce.number,
    findings: charterFindings(body, world),
  };
}

async function open(manager: EntityManager, person: string, charter: number): Promise<void> {
  await manager.upsert(OpenDraftEntity, { person, charter }, ['person']);
}

/** Inserts a draft and opens it for whoever makes it. */
export async function insertDraft(
  manager: EntityManager,
  draft: Pick<CharterEntity, 'base' | 'name' | 'body' | 'note'>,
  by: User,
  now: Date,
): Promise<CharterEntity> {
  const row = {
    ...draft,
    inForce: null,
    number: null,
    version: 1,
    author: by.name,
    changedAt: now,
    enactedAt: null,
    reason: null,
  };
  const made = await manager.save(manager.create(CharterEntity, { ...row, body: { ...draft.body, name: draft.name } }));
  await open(manager, by.key, made.id);
  return made;
}

/** Makes a draft of a charter file. */
export async function importDraft(source: DataSource, text: string, by: User, now: Date): Promise<void> {
  const reading = readCharterFile(text, sha256);
  if (!reading.ok) throw Refused.as('charter-not-read', { errors: [...reading.problems] });
  await inTransaction(source, async (manager) => {
    const inForce = await charterInForce(manager, 'share');
    const { name } = reading.charter;
    const draft = { base: inForce.number ?? 0, name, body: reading.charter, note: null };
    await note(manager, 'imported', await insertDraft(manager, draft, by, now), by, now);
  });
}

async function findDraft(manager: EntityManager, id: number, lock: 'none' | 'write'): Promise<CharterEntity> {
  const query = manager.createQueryBuilder(CharterEntity, 'charter').where({ id, number: IsNull() });
  const draft = await (lock === 'write' ? query.setLock('pessimistic_write') : query).getOne();
  if (draft === null) throw Refused.notFound();
  return draft;
}

/** Opens a draft for someone; null closes whatever is open. */
export async function openDraft(source: DataSource, id: number | null, by: User): Promise<void> {
  await inTransaction(source, async (manager) => {
    if (id === null) await manager.delete(OpenDraftEntity, { person: by.key });
    else await open(manager, by.key, (await findDraft(manager, id, 'none')).id);
  });
}

/** The draft as it was read, locked until the transaction ends; another version is refused. */
export async function lockDraft(manager: EntityManager, id: number, version: number): Promise<CharterEntity> {
  const draft = await findDraft(manager, id, 'write');
  if (draft.version !== version) {
    throw Refused.as('draft-changed', {
      detail: `${draft.author} saved it after you opened it. Your change was not saved.`,
    });
  }
  return draft;
}

/** Saves a draft. Its form must be right; what it names wrongly is kept and said as problems. */
export async function saveDraft(
  source: DataSource,
  id: number,
  { version, charter: json, base }: { readonly version: number; readonly charter: unknown; readonly base?: number },
  by: User,
  now: Date,
): Promise<void> {
  const reading = readCharter(json);
  if (!reading.ok) throw refusedCharter(reading.problems, 'draft-not-saved', json);
  await inTransaction(source, async (manager) => {
    const draft = await lockDraft(manager, id, version);
    if (base !== undefined && base !== (await charterInForce(manager, 'share')).number)
      throw Refused.as('draft-out-of-date', { detail: 'Bring the draft up to date once more.' });
    const { name } = reading.charter;
    await manager.update(CharterEntity, id, {
      body: reading.charter,
      name,
      version: version + 1,
      author: by.name,
      changedAt: now,
      base: base ?? draft.base,
    });
    if (base !== undefined) await note(manager, 'updated', { id, number: null, name }, by, now, `to charter ${base}`);
    // One line for a stretch of work, not for each keystroke.
    else if (draft.author !== by.name || now.getTime() - draft.changedAt.getTime() > 600_000)
      await note(manager, 'saved', { id, number: null, name }, by, now);
  });
}

export async function noteDraft(source: DataSource, id: number, about: string | null): Promise<void> {
  await inTransaction(source, async (manager) => {
    await findDraft(manager, id, 'write');
    await manager.update(CharterEntity, id, { note: about });
  });
}

export async function discardDraft(source: DataSource, id: number, by: User, now: Date): Promise<void> {
  await inTransaction(source, async (manager) => {
    const draft = await findDraft(manager, id, 'write');
    await manager.delete(OpenDraftEntity, { charter: id });
    await manager.delete(CharterEntity, id);
    await note(manager, 'discarded', draft, by, now);
  });
}

/** What the draft would be on the charter in force: its own changes carried over, and where both changed the same. */
export async function upToDate(
  manager: EntityManager,
  id: number,
): Promise<BroughtUpToDate & { readonly base: number }> {
  const draft = await findDraft(manager, id, 'none');
  const inForce = await charterInForce(manager, 'none');
  const base = await manager.findOneByOrFail(CharterEntity, { number: draft.base });
  // A draft keeps its own name: that is no clash.
  const named = (charter: Charter): Charter => ({ ...charter, name: draft.name });
  return { ...bringUpToDate(named(base.body), named(draft.body), named(inForce.body)), base: inForce.number ?? 0 };
}

export async function exportCharter(manager: EntityManager, id: number): Promise<CharterFile> {
  const charter = await manager.findOneBy(CharterEntity, { id });
  if (charter === null) throw Refused.notFound();
  return charterFile(charter.body, sha256);
}

/** Any charter, whole. */
export async function readAnyCharter(manager: EntityManager, id: number): Promise<Charter> {
  const charter = await manager.findOneBy(CharterEntity, { id });
  if (charter === null) throw Refused.notFound();
  return charter.body;
}
