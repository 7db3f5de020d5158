import type { Field, FieldType } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { UNREADABLE } from './value-row';

const TEXTS: ReadonlySet<FieldType> = new Set<FieldType>([
  'text',
  'email',
  'choice',
  'choices',
  'country',
  'region',
  'postal-code',
]);

/**
 * Groups the values that can't be read, as `v`. Those of texts are told by one index, the rest by the other.
 *
 * @param select what is selected and joined, from SELECT up to before WHERE, with `VALUES` in place of the table
 * @param ending how it is grouped and ordered
 */
export async function unreadableValues<T>(
  manager: EntityManager,
  fields: readonly Field[],
  select: string,
  ending: string,
): Promise<T[]> {
  const ofIndex = (index: string, isOf: (type: FieldType) => boolean): Promise<T[]> => {
    const keys = fields.flatMap(({ key, type }) => (isOf(type) ? [key] : []));
    if (keys.length === 0) return Promise.resolve([]);
    const from = select.replace('VALUES', `field_value v FORCE INDEX (${index})`);
    return manager.query<T[]>(`${from} WHERE v.field IN (?) AND ${UNREADABLE} ${ending}`, [keys]);
  };
  const [texts, others] = await Promise.all([
    ofIndex('field_value_by_text', (type) => TEXTS.has(type)),
    ofIndex('field_value_by_number', (type) => !TEXTS.has(type)),
  ]);
  return [...texts, ...others];
}
