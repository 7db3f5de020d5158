import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Lists may be ranked by what a score set gives beside the grade. */
export class SideRanks1764600000000 implements MigrationInterface {
  name = 'SideRanks1764600000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const change of UP) await runner.query(change);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const change of DOWN) await runner.query(change);
  }
}

const UP = [
  'ALTER TABLE `side_score` ADD `rank_order` double NOT NULL',
  'UPDATE `side_score` SET `rank_order` = COALESCE(ROUND(`fit` + `engagement`, 2), -1e9)',
  `ALTER TABLE \`side_score\`
    DROP INDEX \`side_score_by_set\`,
    ADD INDEX \`side_score_by_rank\` (\`score_set\`, \`rank_order\`, \`record\`),
    ADD INDEX \`side_score_by_fit\` (\`score_set\`, \`fit\`, \`record\`),
    ADD INDEX \`side_score_by_engagement\` (\`score_set\`, \`engagement\`, \`record\`)`,
  'ALTER TABLE `lead` ADD INDEX `lead_by_set` (`score_set`)',
];

const DOWN = [
  'ALTER TABLE `lead` DROP INDEX `lead_by_set`',
  `ALTER TABLE \`side_score\`
  DROP INDEX \`side_score_by_rank\`,
  DROP INDEX \`side_score_by_fit\`,
  DROP INDEX \`side_score_by_engagement\`,
  ADD INDEX \`side_score_by_set\` (\`score_set\`),
  DROP COLUMN \`rank_order\``,
];
