import type { MigrationInterface, QueryRunner } from 'typeorm';

/** When operations is told of leads that wait in the bay; order of queues, and how many of their leads one person may hold. */
export class BayAndQueues1767700000000 implements MigrationInterface {
  name = 'BayAndQueues1767700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`bay_alarm\` (
      \`id\` tinyint unsigned NOT NULL,
      \`hours\` int unsigned NULL,
      PRIMARY KEY (\`id\`)
    )`);
    await runner.query('INSERT INTO `bay_alarm` VALUES (1, 24)');
    await runner.query(`CREATE TABLE \`bay_told\` (
      \`record\` int unsigned NOT NULL,
      \`since\` datetime(3) NOT NULL,
      PRIMARY KEY (\`record\`)
    )`);
    await runner.query(
      "ALTER TABLE `queue` ADD COLUMN `order` varchar(6) NOT NULL DEFAULT 'oldest', ADD COLUMN `most_held` int unsigned NULL",
    );
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `picked_from` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `lead` DROP COLUMN `picked_from`');
    await runner.query('ALTER TABLE `queue` DROP COLUMN `order`, DROP COLUMN `most_held`');
    await runner.query('DROP TABLE `bay_told`');
    await runner.query('DROP TABLE `bay_alarm`');
  }
}
