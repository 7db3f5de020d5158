import { optionListSchema, type OptionListRow } from '@relvik/contracts';
import { type FieldType, fold, hasChoice, isChosen, type RecordKind, TIE_KINDS, type TieKind } from '@relvik/core';
import type { DataSource, EntityManager } from 'typeorm';
import { ADMIN, type Endpoint, endpoint, json } from '../http/endpoint';
import { byKey } from '../http/read';
import { Refused } from '../problem/refused';
import { FieldEntity, OptionListEntity } from '../store/entity/catalogue.entity';

/** The list that a field's options are those of; null: its own. */
export async function listsOf(
  manager: EntityManager,
  key: string | null,
  type: FieldType,
): Promise<OptionListEntity | null> {
  if (key === null) return null;
  if (!isChosen(type))
    throw Refused.invalid([{ path: '/optionList', message: 'is for fields that are chosen from a list' }]);
  const list = await manager.findOneBy(OptionListEntity, { key });
  if (list === null) throw Refused.invalid([{ path: '/optionList', message: `no such list: ${key}` }]);
  return list;
}

export function isTieKind(kind: RecordKind): kind is TieKind {
  return TIE_KINDS.some((one) => one === kind);
}

/** Lists of options that several fields share. */
export function optionListEndpoints(source: DataSource): Endpoint[] {
  const { manager } = source;

  async function lists(): Promise<OptionListRow[]> {
    const [rows, fields] = await Promise.all([
      manager.find(OptionListEntity, { order: { name: 'ASC' } }),
      manager.find(FieldEntity, { select: { key: true, optionList: true } }),
    ]);
    return rows.map(({ key, name, options, retiredOptions }) => ({
      ...{ key, name, options, retiredOptions },
      fields: fields.flatMap((field) => (field.optionList === key ? [field.key] : [])),
    }));
  }

  /** Options that are no longer offered, and that some record has. */
  async function retiredOptions(list: OptionListEntity, now: readonly string[]): Promise<string[]> {
    const offered = new Set(now.map(fold));
    const gone = [...list.options, ...list.retiredOptions].filter((option) => !offered.has(fold(option)));
    const fields = (await manager.findBy(FieldEntity, { optionList: list.key })).map(({ key }) => key);
    if (gone.length === 0 || fields.length === 0) return [];
    const rows = await manager.query<{ choices: string | null; folded: string }[]>(
      "SELECT DISTINCT choices, folded FROM field_value WHERE field IN (?) AND kind IN ('text', 'choices')",
      [fields],
    );
    const carried = rows.map(({ choices, folded }) => choices ?? `;${folded};`);
    return gone.filter((option) => carried.some((combination) => hasChoice(combination, fold(option))));
  }

  return [
    endpoint({
      method: 'get',
      path: '/api/option-lists',
      who: ADMIN,
      answer: json<OptionListRow[]>(),
      call: () => lists(),
    }),
    endpoint({
      method: 'put',
      path: '/api/option-lists/:key',
      who: ADMIN,
      params: byKey,
      body: optionListSchema,
      answer: json<OptionListRow[]>(),
      async call({ params: { key }, body: { name, options } }) {
        if (!/^[a-z0-9][a-z0-9_-]{0,47}$/.test(key)) throw Refused.notFound();
        const list = await manager.findOneBy(OptionListEntity, { key });
        if (list === null)
          await manager.insert(OptionListEntity, { key, name, options: [...options], retiredOptions: [] });
        else
          await manager.update(
            OptionListEntity,
            { key },
            { name, options: [...options], retiredOptions: await retiredOptions(list, options) },
          );
        return lists();
      },
    }),
  ];
}
