import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Hours, days off, weights and skills of people; state of the methods; the reason of routes that lead to nobody. */
export class People1767500000000 implements MigrationInterface {
  name = 'People1767500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`ALTER TABLE \`person\`
      ADD COLUMN \`weight\` int unsigned NOT NULL DEFAULT 100,
      ADD COLUMN \`hours\` longtext NULL,
      ADD COLUMN \`holidays_of\` varchar(20) NULL,
      ADD COLUMN \`days_off\` longtext NULL,
      ADD COLUMN \`away\` tinyint NOT NULL DEFAULT 0,
      ADD COLUMN \`skills\` longtext NULL`);
    await runner.query(
      'ALTER TABLE `team` ADD COLUMN `paused` tinyint NOT NULL DEFAULT 0, ADD COLUMN `hours` longtext NULL',
    );
    await runner.query('ALTER TABLE `rep_load` ADD COLUMN `last_given` bigint NULL');
    await runner.query(
      'ALTER TABLE `rota` MODIFY COLUMN `route` varchar(49) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, ADD COLUMN `credits` longtext NULL',
    );
    await runner.query('ALTER TABLE `lead` ADD COLUMN `nobody_because` varchar(200) NULL');
    await runner.query(`CREATE TABLE \`skill_list\` (
      \`key\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`name\` varchar(120) NOT NULL,
      \`words\` longtext NOT NULL,
      PRIMARY KEY (\`key\`)
    )`);
    for (const event of ['INSERT', 'UPDATE', 'DELETE'])
      await runner.query(
        `CREATE TRIGGER \`stamp_skill_list_${event.toLowerCase()}\` AFTER ${event} ON \`skill_list\` FOR EACH ROW UPDATE \`world_stamp\` SET \`stamp\` = \`stamp\` + 1`,
      );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `skill_list`');
    await runner.query('ALTER TABLE `lead` DROP COLUMN `nobody_because`');
    await runner.query('DELETE FROM `rota` WHERE CHAR_LENGTH(`route`) > 48');
    await runner.query(
      'ALTER TABLE `rota` DROP COLUMN `credits`, MODIFY COLUMN `route` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL',
    );
    await runner.query('ALTER TABLE `rep_load` DROP COLUMN `last_given`');
    await runner.query('ALTER TABLE `team` DROP COLUMN `paused`, DROP COLUMN `hours`');
    await runner.query(
      'ALTER TABLE `person` DROP COLUMN `weight`, DROP COLUMN `hours`, DROP COLUMN `holidays_of`, DROP COLUMN `days_off`, DROP COLUMN `away`, DROP COLUMN `skills`',
    );
  }
}
