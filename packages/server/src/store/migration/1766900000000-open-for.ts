import type { MigrationInterface, QueryRunner } from 'typeorm';

/** One lead is open for a contact, or for a company where no person is named, in each pipeline; by e-mail until now. */
export class OpenFor1766900000000 implements MigrationInterface {
  name = 'OpenFor1766900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `open_for` int UNSIGNED NULL, ADD UNIQUE INDEX `lead_one_open` (`open_for`, `pipeline`)',
    );
    // In the order of arrival, so that the oldest of several is the one to which inquiries are added.
    await runner.query(
      "UPDATE IGNORE `lead` SET `open_for` = IF(`contact` IS NOT NULL, `contact`, IF(`email` IS NULL AND `name` = '', `company_id`, NULL)) WHERE `status` = 'open' AND `test` = 0 ORDER BY `id`",
    );
    await runner.query('ALTER TABLE `lead` DROP INDEX `lead_one_open_per_email`, DROP COLUMN `open_email`');
    await runner.query(
      "UPDATE `joined_lead` SET `undo` = JSON_SET(JSON_REMOVE(`undo`, '$.lead.openEmail'), '$.lead.openFor', NULL)",
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `open_email` varchar(320) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL, ADD UNIQUE INDEX `lead_one_open_per_email` (`open_email`, `pipeline`)',
    );
    await runner.query(
      "UPDATE IGNORE `lead` SET `open_email` = `email` WHERE `status` = 'open' AND `test` = 0 ORDER BY `id`",
    );
    await runner.query('ALTER TABLE `lead` DROP INDEX `lead_one_open`, DROP COLUMN `open_for`');
    await runner.query(
      "UPDATE `joined_lead` SET `undo` = JSON_SET(JSON_REMOVE(`undo`, '$.lead.openFor'), '$.lead.openEmail', JSON_EXTRACT(`undo`, '$.lead.email'))",
    );
  }
}
