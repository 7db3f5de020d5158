import type { EntityManager } from 'typeorm';
import type { Ties } from './tied-values';

/** The ties and identity of a lead. */
interface Whose extends Ties {
  readonly email: string | null;
  readonly name: string;
}

/**
 * The id of the contact for whom a lead is open; of one that names no person, that of its company. Of these one lead is open in
 * each pipeline. Null: nobody is known.
 */
export function openForOf({ contact, company, email, name }: Whose): number | null {
  if (contact !== null) return contact;
  return email === null && name === '' ? company : null;
}

/** The same of rows of leads, as SQL. */
export const OPEN_FOR = "IF(contact IS NOT NULL, contact, IF(email IS NULL AND name = '', company_id, NULL))";

/**
 * SQL that lets leads stand as the open one of their person or company, where none does in their pipeline; an own condition
 * follows.
 */
export const STAND_OPEN = `UPDATE IGNORE \`lead\` SET open_for = ${OPEN_FOR} WHERE open_for IS NULL AND status = 'open' AND test = 0`;

/** Lets leads stand anew as the open one of their person or company, after these changed; one that is beside another stands as none. */
export async function standAnew(manager: EntityManager, ids: readonly number[]): Promise<void> {
  if (ids.length === 0) return;
  await manager.query('UPDATE `lead` SET open_for = NULL WHERE id IN (?)', [ids]);
  await manager.query(`${STAND_OPEN} AND id IN (?) ORDER BY id`, [ids]);
}

/** The ids of the open leads of companies without a person. */
export async function openOf(manager: EntityManager, companies: readonly number[]): Promise<number[]> {
  if (companies.length === 0) return [];
  const rows = await manager.query<{ id: number }[]>('SELECT id FROM `lead` WHERE open_for IN (?)', [companies]);
  return rows.map(({ id }) => id);
}
