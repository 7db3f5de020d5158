import { takesAnyOption, type TieKind, withChoices } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { Refused } from '../problem/refused';
import { rightsOnRecord } from '../session/record-rights';
import { sightOf } from '../session/sight';
import { CompanyKeyEntity } from '../store/entity/company.entity';
import { ContactAliasEntity, ContactEntity } from '../store/entity/contact.entity';
import { FieldValueEntity } from '../store/entity/field-value.entity';
import { ChangeEntity } from '../store/entity/history.entity';
import { JoinedPartyEntity, type PartyUndo } from '../store/entity/joined-party.entity';
import { RecordEntity } from '../store/entity/lead.entity';
import { SaidValueEntity } from '../store/entity/said-value.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { readGoverning } from '../store/governing';
import { type StoredUnrouted } from '../store/load-unrouted';
import { insertRows, replaceRows } from '../store/rows';
import { inTransaction } from '../store/transaction';
import { standAnew } from '../store/open-for';
import { BELOW, UNROUTED_ENTITIES } from '../store/unrouted-kinds';
import { rowOf } from '../store/value-row';
import { lineOf } from './change-source';
import { decideAcross, loadPair, partyDifferences, type PartyPair } from './party-pair';
import type { Hand } from './hand';

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
    await decideAcross(manager, kind, older, governing, hand);
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

const HANGING = ['activity', 'record_change', 'notice', 'outbox', 'task'] as const;

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
    if (table === 'lead') await standAnew(manager, moved[`${table}.${column}`] ?? []);
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
