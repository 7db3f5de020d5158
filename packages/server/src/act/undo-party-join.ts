import { sameValue, type TieKind } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { rightsOnRecord } from '../session/record-rights';
import { recordInSight } from '../session/record-sight';
import { sightOf } from '../session/sight';
import { CompanyKeyEntity } from '../store/entity/company.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { JoinedPartyEntity, type PartyUndo } from '../store/entity/joined-party.entity';
import { RecordEntity } from '../store/entity/lead.entity';
import { readGoverning } from '../store/governing';
import { loadUnrouted, type StoredUnrouted } from '../store/load-unrouted';
import { insertRows, replaceRows } from '../store/rows';
import { standAnew } from '../store/open-for';
import { inTransaction } from '../store/transaction';
import { UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { rowOf } from '../store/value-row';
import type { Hand } from './hand';
import { decideAcross } from './party-pair';
import { touchUnrouted } from './touch-parties';

/** As long as a join can be undone, ms. */
export const PARTY_UNDO = 10 * 86_400_000;

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
    await decideAcross(manager, kind, older, governing, hand);
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
    if (ids.length === 0) continue;
    await manager.query(`UPDATE \`${table}\` SET ${column} = ? WHERE id IN (?) AND ${column} = ?`, [id, ids, older]);
    if (table === 'lead') await standAnew(manager, ids);
  }
  for (const { kind: of, text } of undo.keys)
    if (of === 'email')
      await manager.query('INSERT IGNORE INTO contact_alias (folded, contact) VALUES (?, ?)', [text, id]);
    else {
      await manager.delete(CompanyKeyEntity, { kind: of, folded: text, company: older });
      await manager.query('INSERT IGNORE INTO company_key (kind, folded, company) VALUES (?, ?, ?)', [of, text, id]);
    }
  await manager.delete(JoinedPartyEntity, { id });
  await touchUnrouted(manager, kind, [id], hand.at);
}
