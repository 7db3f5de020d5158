import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Several drafts with notes, one open for each person; a journal; how far an enact goes; when a lead was last touched. */
export class CharterLife1764100000000 implements MigrationInterface {
  name = 'CharterLife1764100000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const change of UP) await runner.query(change);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const change of DOWN) await runner.query(change);
  }
}

const UP = [
  'ALTER TABLE `charter` ADD `note` varchar(500) NULL',
  'ALTER TABLE `lead` ADD `touched_at` datetime(3) NULL',
  'UPDATE `lead` SET `touched_at` = GREATEST(`arrived`, `decided_at`)',
  'ALTER TABLE `lead` MODIFY `touched_at` datetime(3) NOT NULL',
  'ALTER TABLE `job` ADD `scope` longtext NOT NULL DEFAULT \'{"which":"all"}\'',
  'ALTER TABLE `job` MODIFY `scope` longtext NOT NULL',
  "ALTER TABLE `job` ADD `reach` varchar(8) NOT NULL DEFAULT 'score'",
  'ALTER TABLE `job` MODIFY `reach` varchar(8) NOT NULL',
  `CREATE TABLE \`open_draft\` (
    \`person\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`charter\` int UNSIGNED NOT NULL,
    INDEX \`open_draft_by_charter\` (\`charter\`),
    PRIMARY KEY (\`person\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`journal\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`at\` datetime(3) NOT NULL,
    \`by\` varchar(120) NOT NULL,
    \`act\` varchar(12) NOT NULL,
    \`charter\` int UNSIGNED NOT NULL,
    \`number\` int UNSIGNED NULL,
    \`name\` varchar(120) NOT NULL,
    \`why\` varchar(500) NULL,
    INDEX \`journal_by_charter\` (\`charter\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
];

const DOWN = [
  'DROP TABLE `journal`',
  'DROP TABLE `open_draft`',
  'ALTER TABLE `job` DROP COLUMN `reach`',
  'ALTER TABLE `job` DROP COLUMN `scope`',
  'ALTER TABLE `lead` DROP COLUMN `touched_at`',
  'ALTER TABLE `charter` DROP COLUMN `note`',
];
