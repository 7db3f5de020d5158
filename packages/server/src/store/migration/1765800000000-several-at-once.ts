import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Fields that hold several options at once, options that are no longer offered, and tags: such a field on every lead. */
export class SeveralAtOnce1765800000000 implements MigrationInterface {
  name = 'SeveralAtOnce1765800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `field_value` ADD COLUMN `choices` text CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL AFTER `folded`',
    );
    await runner.query('ALTER TABLE `field` ADD COLUMN `retired_options` longtext NULL AFTER `options`');
    await runner.query("UPDATE `field` SET `retired_options` = '[]'");
    await runner.query('ALTER TABLE `field` MODIFY COLUMN `retired_options` longtext NOT NULL');
    await runner.query(`CREATE TABLE \`tag\` (
      \`folded\` varchar(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
      \`word\` varchar(190) NOT NULL,
      PRIMARY KEY (\`folded\`)
    ) ENGINE=InnoDB`);
    await runner.query(
      "INSERT INTO `field` (`key`, `name`, `type`, `options`, `retired_options`, `retired`, `personal`, `position`) VALUES ('tags', 'Tags', 'choices', '[]', '[]', 0, 0, 1000)",
    );
    for (const event of EVENTS)
      await runner.query(
        `CREATE TRIGGER \`stamp_tag_${event.toLowerCase()}\` AFTER ${event} ON \`tag\` FOR EACH ROW UPDATE \`world_stamp\` SET \`stamp\` = \`stamp\` + 1`,
      );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const event of EVENTS) await runner.query(`DROP TRIGGER \`stamp_tag_${event.toLowerCase()}\``);
    await runner.query("DELETE FROM `field_value` WHERE `kind` = 'choices'");
    await runner.query("DELETE FROM `field` WHERE `type` = 'choices'");
    await runner.query('DROP TABLE `tag`');
    await runner.query('ALTER TABLE `field` DROP COLUMN `retired_options`');
    await runner.query('ALTER TABLE `field_value` DROP COLUMN `choices`');
  }
}

const EVENTS = ['INSERT', 'UPDATE', 'DELETE'] as const;
