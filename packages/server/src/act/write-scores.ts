import { rankOf, type Score, type SetScore } from '@relvik/core';
import type { EntityManager } from 'typeorm';
import type { LeadEntity } from '../store/entity/lead.entity';
import { NO_RANK } from '../store/entity/scored.entity';
import { SideScoreEntity } from '../store/entity/side-score.entity';
import { insertsOf, replaceRows } from '../store/rows';

/** What a rescore writes of a lead: its scores, and what says how old they are. */
export type ScoreRow = Pick<
  LeadEntity,
  | 'id'
  | 'admitted'
  | 'scoreSet'
  | 'fit'
  | 'engagement'
  | 'rankOrder'
  | 'fitBand'
  | 'engagementBand'
  | 'charter'
  | 'decidedAt'
  | 'touchedAt'
  | 'changesAt'
>;

/** As the database calls them. */
export const SCORE_COLUMNS = [
  'admitted',
  'score_set',
  'fit',
  'engagement',
  'rank_order',
  'fit_band',
  'engagement_band',
  'charter',
  'decided_at',
  'touched_at',
  'changes_at',
] as const;

const STAGE = `CREATE TEMPORARY TABLE IF NOT EXISTS staged_score (
  id int UNSIGNED NOT NULL PRIMARY KEY,
  admitted varchar(8) NOT NULL, score_set varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
  fit double NULL, engagement double NULL, rank_order double NOT NULL,
  fit_band varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL, engagement_band varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
  charter int UNSIGNED NOT NULL,
  decided_at datetime(3) NOT NULL, touched_at datetime(3) NOT NULL, changes_at datetime(3) NULL
) ENGINE=MEMORY`;

/** As many rows as a stage in memory takes, and a statement of the usual length. */
const ROWS = 5000;

/**
 * Writes scores of leads whose rows are locked: staged in memory, then joined, so that each index is touched only where its
 * columns changed.
 */
export async function writeScores(manager: EntityManager, rows: readonly ScoreRow[]): Promise<void> {
  if (rows.length === 0) return;
  await manager.query(STAGE);
  for (let i = 0; i < rows.length; i += ROWS) {
    const some = rows.slice(i, i + ROWS);
    await manager.query('DELETE FROM staged_score');
    await manager.query(`INSERT INTO staged_score (id, ${SCORE_COLUMNS.join(', ')}) VALUES ?`, [
      some.map((row) => [
        row.id,
        row.admitted,
        row.scoreSet,
        row.fit,
        row.engagement,
        row.rankOrder,
        row.fitBand,
        row.engagementBand,
        row.charter,
        row.decidedAt,
        row.touchedAt,
        row.changesAt,
      ]),
    ]);
    await manager.query(
      `UPDATE \`lead\` JOIN staged_score AS s ON s.id = \`lead\`.id SET ${SCORE_COLUMNS.map((column) => `\`lead\`.${column} = s.${column}`).join(', ')}`,
    );
  }
}

const sideKey = ({ record, scoreSet }: Pick<SideScoreEntity, 'record' | 'scoreSet'>): string => `${record} ${scoreSet}`;

/** The statements that write what sets give new leads beside the one that grades. */
export function sideInserts(
  manager: EntityManager,
  decided: readonly { readonly id: number; readonly score: Score }[],
): string[] {
  return insertsOf(
    manager,
    SideScoreEntity,
    decided.flatMap(({ id, score }) => score.beside.map((side) => sideRow(id, side))),
  );
}

/** Writes what sets give beside the one that grades; what they gave before and no longer do is gone, what stays is left alone. */
export async function writeSideScores(
  manager: EntityManager,
  decided: readonly { readonly id: number; readonly score: Score }[],
): Promise<void> {
  for (let i = 0; i < decided.length; i += ROWS) {
    const some = decided.slice(i, i + ROWS);
    const stored = await manager.query<SideRow[]>(
      'SELECT record, score_set AS scoreSet, fit, engagement FROM side_score WHERE record IN (?)',
      [some.map(({ id }) => id)],
    );
    const rows = some.flatMap(({ id, score }) => score.beside.map((side) => sideRow(id, side)));
    const given = new Set(rows.map(sideKey));
    const gone = stored.filter((row) => !given.has(sideKey(row)));
    if (gone.length > 0)
      await manager.query('DELETE FROM side_score WHERE (record, score_set) IN (?)', [
        gone.map(({ record, scoreSet }) => [record, scoreSet]),
      ]);
    const before = new Map(stored.map((row) => [sideKey(row), row]));
    const changed = rows.filter((row) => {
      const was = before.get(sideKey(row));
      return was?.fit !== row.fit || was.engagement !== row.engagement;
    });
    if (changed.length === 0) continue;
    await replaceRows(manager, SideScoreEntity, changed);
  }
}

type SideRow = Omit<SideScoreEntity, 'rankOrder'>;

function sideRow(record: number, { set, fit, engagement }: SetScore): SideScoreEntity {
  return {
    record,
    scoreSet: set,
    fit: fit.judged ? fit.score : null,
    engagement: engagement.judged ? engagement.score : null,
    rankOrder: rankOf({ fit, engagement }) ?? NO_RANK,
  };
}
