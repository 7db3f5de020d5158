import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Deputies take over the open leads of someone who is off, who gets them back or not. */
export class Deputies1767800000000 implements MigrationInterface {
  name = 'Deputies1767800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `person` ADD COLUMN `deputy` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD COLUMN `gets_back` tinyint NOT NULL DEFAULT 1',
    );
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `deputy_for` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL',
    );
    await runner.query('CREATE INDEX `lead_by_deputy` ON `lead` (`deputy_for`)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP INDEX `lead_by_deputy` ON `lead`');
    await runner.query('ALTER TABLE `lead` DROP COLUMN `deputy_for`');
    await runner.query('ALTER TABLE `person` DROP COLUMN `deputy`, DROP COLUMN `gets_back`');
  }
}
