import { type JoinPreview, NO_CELLS, type RecordRow } from '@relvik/contracts';
import { showValue, type TieKind } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import { loadPair, partyDifferences } from '../act/party-pair';
import { rowsOfRecords } from '../list/record-list';
import { Refused } from '../problem/refused';
import type { Sight } from '../session/sight';
import { readGoverning } from '../store/governing';

/** The effect of joining two contacts or companies. */
export async function previewPartyJoin(
  manager: EntityManager,
  kind: TieKind,
  ids: readonly [number, number],
  sight: Sight,
): Promise<JoinPreview<RecordRow>> {
  const governing = await readGoverning(manager, 'none');
  const pair = await loadPair(manager, kind, ids, sight, governing, 'none');
  const [older, younger] = await rowsOfRecords(manager, kind, sight, [pair.older.entity, pair.younger.entity]);
  if (older === undefined || younger === undefined) throw Refused.notFound();
  return {
    older: { ...older, ...NO_CELLS },
    younger: { ...younger, ...NO_CELLS },
    fields: partyDifferences(pair).map(({ field, older: own, younger: other }) => ({
      field,
      older: own === null ? null : showValue(own),
      younger: showValue(other),
      takesYounger: own === null,
    })),
    activities: pair.younger.record.activities.length,
  };
}
