import type { SaidRow, SaidValue } from '@relvik/contracts';
import { showValue } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { SaidValueEntity } from '../store/entity/said-value.entity';

const SHOWN = 200;

export function saidValue({ field, value, way, by, at }: SaidValueEntity): SaidValue {
  return {
    field,
    shown: showValue(value),
    unreadable: value.kind === 'unreadable' ? value.why : null,
    way,
    by,
    at: at.getTime(),
  };
}

/** Values sent for open leads but not taken, the newest first. */
export async function saidRows(manager: EntityManager): Promise<SaidRow[]> {
  const { entities, raw } = await manager
    .createQueryBuilder(SaidValueEntity, 'said')
    .innerJoin('lead', 'l', "l.id = said.record AND l.status = 'open'")
    .leftJoin('field_value', 'v', 'v.record = said.record AND v.field = said.field')
    .addSelect('l.name', 'name')
    .addSelect('l.company', 'company')
    .addSelect('v.shown', 'known')
    .orderBy('said.at', 'DESC')
    .addOrderBy('said.record', 'DESC')
    .addOrderBy('said.field', 'ASC')
    .limit(SHOWN)
    .getRawAndEntities<{ name: string; company: string; known: string | null }>();
  return entities.map((said, i) => {
    const { name = '', company = '', known = null } = raw[i] ?? {};
    return {
      ...saidValue(said),
      lead: said.record,
      name: name || company || `Lead ${said.record}`,
      known: known ?? '',
    };
  });
}
