import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * When a score changes by itself, and lists by fit and engagement; activities with properties, and an id of their own so that a repeat counts once; the
 * admin's kinds of activities; saved views; whom a rescore tells.
 */
export class TimeAndActivities1764300000000 implements MigrationInterface {
  name = 'TimeAndActivities1764300000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const change of UP) await runner.query(change);
    await withSignals(runner, (signal) => ({
      ...signal,
      having: signal['having'] ?? [],
      times: signal['times'] ?? 'each',
    }));
  }

  async down(runner: QueryRunner): Promise<void> {
    await withSignals(runner, (signal) =>
      Object.fromEntries(Object.entries(signal).filter(([key]) => key !== 'having' && key !== 'times')),
    );
    for (const change of DOWN) await runner.query(change);
  }
}

type Json = Readonly<Record<string, unknown>>;

/** Rewrites the activity signals of every charter there is. */
async function withSignals(runner: QueryRunner, change: (signal: Json) => Json): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const charter = JSON.parse(body) as { scoreSet: { signals: Json[] } };
    charter.scoreSet.signals = charter.scoreSet.signals.map((one) => (one['kind'] === 'activity' ? change(one) : one));
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [JSON.stringify(charter), id]);
  }
}

const UP = [
  'ALTER TABLE `lead` ADD `changes_at` datetime(3) NULL, ADD INDEX `lead_by_change` (`status`, `changes_at`, `id`), ADD INDEX `lead_by_fit` (`status`, `fit`, `id`), ADD INDEX `lead_by_engagement` (`status`, `engagement`, `id`)',
  // Who was decided before this was kept is looked at once.
  "UPDATE `lead` SET `changes_at` = `decided_at` WHERE `status` = 'open'",
  `ALTER TABLE \`activity\`
    ADD \`properties\` longtext NULL,
    ADD \`sender\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    ADD \`event\` varchar(120) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
    ADD UNIQUE INDEX \`activity_once\` (\`sender\`, \`event\`),
    ADD INDEX \`activity_by_kind\` (\`kind\`, \`record\`)`,
  `CREATE TABLE \`activity_kind\` (
    \`key\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`name\` varchar(120) NOT NULL,
    \`by\` varchar(4) NOT NULL,
    \`retired\` tinyint NOT NULL,
    \`position\` int UNSIGNED NOT NULL,
    PRIMARY KEY (\`key\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`saved_view\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`person\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`name\` varchar(80) NOT NULL,
    \`shared\` tinyint NOT NULL,
    \`query\` longtext NOT NULL,
    INDEX \`saved_view_by_person\` (\`person\`),
    INDEX \`saved_view_by_sharing\` (\`shared\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  'ALTER TABLE `job` ADD `starter` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL',
  'ALTER TABLE `notice` MODIFY `record` int UNSIGNED NULL, ADD `job` int UNSIGNED NULL',
];

const DOWN = [
  'DELETE FROM `notice` WHERE `record` IS NULL',
  'ALTER TABLE `notice` DROP COLUMN `job`, MODIFY `record` int UNSIGNED NOT NULL',
  'ALTER TABLE `job` DROP COLUMN `starter`',
  'DROP TABLE `saved_view`',
  'DROP TABLE `activity_kind`',
  'ALTER TABLE `activity` DROP INDEX `activity_by_kind`, DROP INDEX `activity_once`, DROP COLUMN `event`, DROP COLUMN `sender`, DROP COLUMN `properties`',
  'ALTER TABLE `lead` DROP INDEX `lead_by_engagement`, DROP INDEX `lead_by_fit`, DROP INDEX `lead_by_change`, DROP COLUMN `changes_at`',
];
