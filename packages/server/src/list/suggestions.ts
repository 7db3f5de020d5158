import type { SuggestionRow, TieName } from '@relvik/contracts';
import type { EntityManager } from 'typeorm';
import { SuggestionEntity } from '../store/entity/suggestion.entity';
import { tieNames } from './record-list';

const SHOWN = 200;

/** Contacts and companies that may be one, the newest first. */
export async function suggestionRows(manager: EntityManager): Promise<SuggestionRow[]> {
  const rows = await manager.find(SuggestionEntity, { where: { settled: false }, order: { id: 'DESC' }, take: SHOWN });
  const idsOf = (kind: SuggestionEntity['kind']): number[] =>
    rows.flatMap((row) => (row.kind === kind ? [row.older, row.younger] : []));
  const names = new Map<number, TieName>([
    ...(await tieNames(manager, 'contact', idsOf('contact'))),
    ...(await tieNames(manager, 'company', idsOf('company'))),
  ]);
  return rows.flatMap(({ id, kind, older, younger, at }) => {
    const [one, two] = [names.get(older), names.get(younger)];
    return one === undefined || two === undefined ? [] : [{ id, kind, older: one, younger: two, at: at.getTime() }];
  });
}
