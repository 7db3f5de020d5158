import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Leads that wait in the bay for someone free are found by an index: each batch that comes in asks for them. */
export class Waiting1768300000000 implements MigrationInterface {
  name = 'Waiting1768300000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `waits_for` varchar(8) CHARACTER SET ascii COLLATE ascii_bin NULL AFTER `bay_team`',
    );
    await runner.query(
      "UPDATE `lead` SET waits_for = IF(JSON_EXISTS(bay, '$.also'), 'routes', 'route') WHERE JSON_VALUE(bay, '$.why') = 'nobody-free'",
    );
    await runner.query(
      'ALTER TABLE `lead` ADD INDEX `lead_by_waiting` (`waits_for`, `status`, `route`, `since`, `id`)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `lead` DROP INDEX `lead_by_waiting`, DROP COLUMN `waits_for`');
  }
}
