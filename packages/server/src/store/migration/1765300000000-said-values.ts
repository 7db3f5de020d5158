import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Values that a way in sent and that are not taken stand beside; the admin decides which ways in are trusted. */
export class SaidValues1765300000000 implements MigrationInterface {
  name = 'SaidValues1765300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`said_value\` (
      \`record\` int UNSIGNED NOT NULL,
      \`field\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`value\` longtext NOT NULL,
      \`way\` varchar(8) NOT NULL,
      \`by\` varchar(120) NOT NULL,
      \`at\` datetime(3) NOT NULL,
      PRIMARY KEY (\`record\`, \`field\`),
      INDEX \`said_value_by_age\` (\`at\`, \`record\`)
    ) ENGINE=InnoDB`);
    await runner.query('ALTER TABLE `form` ADD COLUMN `trusted` tinyint NOT NULL DEFAULT 0');
    await runner.query('ALTER TABLE `intake_key` ADD COLUMN `trusted` tinyint NOT NULL DEFAULT 1');
    for (const table of ['form', 'intake_key'])
      await runner.query(`ALTER TABLE \`${table}\` ALTER COLUMN \`trusted\` DROP DEFAULT`);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['form', 'intake_key']) await runner.query(`ALTER TABLE \`${table}\` DROP COLUMN \`trusted\``);
    await runner.query('DROP TABLE `said_value`');
  }
}
