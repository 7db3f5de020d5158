import { sameValue, takesAnyOption, type TieKind, type Value, withChoices } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { rightsOnRecord } from '../session/record-rights';
import { recordInSight } from '../session/record-sight';
import { type Sight, sightOf } from '../session/sight';
import { CompanyKeyEntity } from '../store/entity/company.entity';
import { ContactAliasEntity, ContactEntity } from '../store/entity/contact.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { JoinedPartyEntity, type PartyUndo } from '../store/entity/joined-party.entity';
import { RecordEntity } from '../store/entity/lead.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { type Governing, readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { insertRows, replaceRows } from '../store/rows';
import { inTransaction } from '../store/transaction';
import { BELOW, UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { rowOf } from '../store/value-row';
import { lineOf } from './change-record';
import { dueAcross } from './due-across';
import type { Hand } from './hand';
import { touch } from './touch-parties';

/** As long as a join can be undone, ms. */
export const PARTY_UNDO = 10 * 86_400_000;

/** Two of one kind: the older is the one that came first, and stays. */
export interface PartyPair {
  readonly older: StoredUnrouted;
  readonly younger: StoredUnrouted;
}

/** What joining changes on the older: where it has nothing, and where the younger's value is chosen. */
export interface PartyDifference {
  readonly field: string;
  readonly older: Value | null;
  readonly younger: Value;
}

export function partyPair(one: StoredUnrouted, two: StoredUnrouted): PartyPair {
  const [a, b] = [one.entity, two.entity];
  const isOlder =
    a.arrived.getTime() < b.arrived.getTime() || (a.arrived.getTime() === b.arrived.getTime() && a.id < b.id);
  return isOlder ? { older: one, younger: two } : { older: two, younger: one };
}

/** The fields in which the younger says something that the older does not. */
export function partyDifferences({ older, younger }: PartyPair): PartyDifference[] {
  return [...younger.record.values].flatMap(([field, value]): PartyDifference[] => {
    const own = older.record.values.get(field);
    return value.kind === 'blank' || sameValue(own, value) ? [] : [{ field, older: own ?? null, younger: value }];
  });
}

/** Loads two contacts or companies in the user's sight. */
export async function loadPair(
  manager: EntityManager,
  kind: TieKind,
  ids: readonly [number, number],
  sight: Sight,
  { ready }: Governing,
  lock: 'none' | 'write',
): Promise<PartyPair> {
  if (ids[0] === ids[1]) throw Refused.as('cannot-join', { detail: 'Choose two different ones.' });
  // In one order, so that two opposite joins wait for each other, and the second finds one gone.
  for (const id of [...ids].sort((a, b) => a - b)) await recordInSight(manager, kind, sight, id, lock);
  const [one, two] = await loadUnrouted(manager, kind, ids, ready);
  if (one === undefined || two === undefined)
    throw Refused.as('cannot-join', { detail: 'One of them was joined into the other meanwhile.' });
  return partyPair(one, two);
}

/**
 * Joins two contacts, or two companies: what hangs on the younger goes to the older, whose id its own leads to from now on.
 *
 * @param take the fields in which the younger's value is taken; blanks of the older are filled anyway
 * @returns the id of the older
 */
export function joinParties(
  source: DataSource,
  kind: TieKind,
  ids: readonly [number, number],
  take: readonly string[],
  hand: Hand,
): Promise<number> {
  return inTransaction(source, async (manager) => {
    const governing = await readGoverning(manager, 'share');
    const sight = await sightOf(manager, hand.user);
    const pair = await loadPair(manager, kind, ids, sight, governing, 'write');
    for (const { entity } of [pair.older, pair.younger])
      if (!(await rightsOnRecord(manager, kind, entity, sight, hand.user)).edit) throw Refused.as('forbidden');
    const taken = takenFrom(pair, take);
    const undo = await moveAside(manager, kind, pair, taken, hand);
    const { older, younger } = pair;
    await replaceRows(
      manager,
      FieldValueEntity,
      taken.flatMap(({ field, after }) =>
        after.kind === 'blank'
          ? []
          : [rowOf(older.entity.id, field, after, younger.origins.get(field) ?? 'trusted', hand.at)],
      ),
    );
    await insertRows(manager, ChangeEntity, [
      ...taken.map(({ field, before, after }) => ({
        ...lineOf(older.entity.id, hand),
        field,
        from: before,
        to: after,
        reason: `${kind} ${younger.entity.id} joined`,
      })),
      { ...lineOf(older.entity.id, hand), field: 'joined', from: null, to: String(younger.entity.id) },
    ]);
    await insertRows(manager, JoinedPartyEntity, [
      { id: younger.entity.id, kind, older: older.entity.id, at: hand.at, person: hand.user.key, undo },
    ]);
    await manager.query('DELETE FROM suggestion WHERE older = ? OR younger = ?', [
      younger.entity.id,
      younger.entity.id,
    ]);
    await settled(manager, kind, older, governing, hand);
    return older.entity.id;
  });
}

function takenFrom(pair: PartyPair, take: readonly string[]): PartyUndo['taken'] {
  return partyDifferences(pair).flatMap(({ field, older, younger }) => {
    if (takesAnyOption({ key: field }) && older?.kind === 'choices' && younger.kind === 'choices')
      return [
        { field, before: older, after: { kind: 'choices' as const, ...withChoices(older.texts, younger.texts) } },
      ];
    return older === null || take.includes(field) ? [{ field, before: older, after: younger }] : [];
  });
}

/** The older is looked at again, and what reads it across a tie. */
async function settled(
  manager: EntityManager,
  kind: TieKind,
  { entity }: Pick<StoredUnrouted, 'entity'>,
  { ready }: Governing,
  { at }: Hand,
): Promise<void> {
  await manager.query(`UPDATE ${kind} SET version = version + 1 WHERE id = ?`, [entity.id]);
  await touch(manager, kind, [entity.id], at);
  const read = (of: 'lead' | 'deal'): number[] => (ready.rules[of].tied.length > 0 ? [entity.id] : []);
  await dueAcross(manager, kind, { leads: read('lead'), deals: read('deal') }, at);
}

const HANGING = ['activity', 'record_change', 'notice', 'outbox'] as const;

/** Takes the younger out of lists and counts; what hangs on it goes to the older. */
async function moveAside(
  manager: EntityManager,
  kind: TieKind,
  { older, younger }: PartyPair,
  taken: PartyUndo['taken'],
  hand: Hand,
): Promise<PartyUndo> {
  const [from, to] = [younger.entity.id, older.entity.id];
  const moved: Record<string, number[]> = {};
  const move = async (table: string, column: string): Promise<void> => {
    const rows = await manager.query<{ id: number }[]>(`SELECT id FROM \`${table}\` WHERE ${column} = ? FOR UPDATE`, [
      from,
    ]);
    moved[`${table}.${column}`] = rows.map(({ id }) => id);
    await manager.query(`UPDATE \`${table}\` SET ${column} = ? WHERE ${column} = ?`, [to, from]);
  };
  for (const [table, column] of BELOW[kind]) await move(table, column);
  for (const table of HANGING) await move(table, 'record');
  const keys = await moveKeys(manager, kind, younger, to);
  await manager.query('UPDATE IGNORE said_value SET record = ? WHERE record = ?', [to, from]);
  const [row] = await manager.query<Record<string, unknown>[]>(`SELECT * FROM ${kind} WHERE id = ?`, [from]);
  await manager.delete(UNROUTED_ENTITIES[kind], from);
  for (const entity of [FieldValueEntity, SideScoreEntity, SaidValueEntity])
    await manager.delete(entity, { record: from });
  await manager.update(RecordEntity, from, { kind: 'joined' });
  // The e-mail of the younger is one of the older from now on.
  if (younger.entity instanceof ContactEntity && younger.entity.email !== null)
    await manager.query('INSERT IGNORE INTO contact_alias (folded, contact) VALUES (?, ?)', [younger.entity.email, to]);
  const owner = older.entity.owner === null ? younger.entity.owner : null;
  if (owner !== null) await manager.update(UNROUTED_ENTITIES[kind], to, { owner, touchedAt: hand.at });
  return {
    row: row ?? {},
    values: [...younger.record.values].map(([field, value]) => ({
      field,
      value,
      origin: younger.origins.get(field) ?? 'trusted',
    })),
    moved,
    keys,
    taken,
    owner,
  };
}

async function moveKeys(
  manager: EntityManager,
  kind: TieKind,
  { entity }: StoredUnrouted,
  to: number,
): Promise<PartyUndo['keys']> {
  if (kind === 'contact') {
    const aliases = await manager.findBy(ContactAliasEntity, { contact: entity.id });
    await manager.update(ContactAliasEntity, { contact: entity.id }, { contact: to });
    return aliases.map(({ folded }) => ({ kind: 'email', text: folded }));
  }
  const keys = await manager.findBy(CompanyKeyEntity, { company: entity.id });
  await manager.query('UPDATE IGNORE company_key SET company = ? WHERE company = ?', [to, entity.id]);
  await manager.delete(CompanyKeyEntity, { company: entity.id });
  return keys.map(({ kind: of, folded }) => ({ kind: of, text: folded }));
}

/** Takes a join back, within ten days: the younger stands again as it was, the older without what it had got. */
export function undoPartyJoin(source: DataSource, younger: number, hand: Hand): Promise<{ readonly kind: TieKind }> {
  return inTransaction(source, async (manager) => {
    const joined = await manager
      .createQueryBuilder(JoinedPartyEntity, 'joined')
      .where({ id: younger })
      .setLock('pessimistic_write')
      .getOne();
    if (joined === null) throw Refused.notFound();
    const { kind, older: olderId, undo } = joined;
    const governing = await readGoverning(manager, 'share');
    const sight = await sightOf(manager, hand.user);
    const entity = await recordInSight(manager, kind, sight, olderId, 'write');
    if (!(await rightsOnRecord(manager, kind, entity, sight, hand.user)).edit) throw Refused.as('forbidden');
    if (entity.id !== olderId)
      throw Refused.as('cannot-undo', { detail: `Take ${kind} ${olderId} apart first: it was joined into another.` });
    if (hand.at.getTime() - joined.at.getTime() > PARTY_UNDO)
      throw Refused.as('cannot-undo', { detail: 'A join can be undone for ten days.' });
    const [older] = await loadUnrouted(manager, kind, [olderId], governing.ready);
    if (older === undefined) throw Refused.notFound();
    await giveBack(manager, older, undo, hand);
    await standAgain(manager, joined, hand);
    await settled(manager, kind, older, governing, hand);
    return { kind };
  });
}

/** The older without what it got, where it still has it. */
async function giveBack(
  manager: EntityManager,
  { kind, entity, record }: StoredUnrouted,
  undo: PartyUndo,
  hand: Hand,
): Promise<void> {
  const back = undo.taken.filter(({ field, after }) => sameValue(record.values.get(field), after));
  for (const { field, before } of back) {
    if (before === null || before.kind === 'blank')
      await manager.delete(FieldValueEntity, { record: entity.id, field });
    else await replaceRows(manager, FieldValueEntity, [rowOf(entity.id, field, before, 'trusted', hand.at)]);
  }
  if (undo.owner !== null && entity.owner === undo.owner)
    await manager.update(UNROUTED_ENTITIES[kind], entity.id, { owner: null });
}

async function standAgain(
  manager: EntityManager,
  { id, kind, older, undo }: JoinedPartyEntity,
  hand: Hand,
): Promise<void> {
  if (kind === 'contact') {
    const emails = [
      ...undo.keys.map(({ text }) => text),
      ...(typeof undo.row['email'] === 'string' ? [undo.row['email']] : []),
    ];
    if (emails.length > 0)
      await manager.query('DELETE FROM contact_alias WHERE contact = ? AND folded IN (?)', [older, emails]);
  }
  const instants = ['arrived', 'touched_at', 'due', 'scored_at'];
  const row = Object.fromEntries(
    Object.entries(undo.row).map(([column, cell]) => [
      column,
      instants.includes(column) && typeof cell === 'string' ? new Date(cell) : cell,
    ]),
  );
  const columns = Object.keys(row);
  await manager.query(
    `INSERT INTO ${kind} (${columns.map((column) => `\`${column}\``).join(', ')}) VALUES (${columns.map(() => '?').join(', ')})`,
    Object.values(row),
  );
  await manager.update(RecordEntity, id, { kind });
  await insertRows(
    manager,
    FieldValueEntity,
    undo.values.flatMap(({ field, value, origin }) =>
      value.kind === 'blank' ? [] : [rowOf(id, field, value, origin, hand.at)],
    ),
  );
  for (const [place, ids] of Object.entries(undo.moved)) {
    const [table = '', column = ''] = place.split('.');
    if (ids.length > 0)
      await manager.query(`UPDATE \`${table}\` SET ${column} = ? WHERE id IN (?) AND ${column} = ?`, [id, ids, older]);
  }
  for (const { kind: of, text } of undo.keys)
    if (of === 'email')
      await manager.query('INSERT IGNORE INTO contact_alias (folded, contact) VALUES (?, ?)', [text, id]);
    else {
      await manager.delete(CompanyKeyEntity, { kind: of, folded: text, company: older });
      await manager.query('INSERT IGNORE INTO company_key (kind, folded, company) VALUES (?, ?, ?)', [of, text, id]);
    }
  await manager.delete(JoinedPartyEntity, { id });
  await touch(manager, kind, [id], hand.at);
}
