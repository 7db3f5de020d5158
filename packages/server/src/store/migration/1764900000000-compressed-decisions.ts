import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Decisions are kept compressed: their accounts are most of what is written for a lead, and seldom read. */
export class CompressedDecisions1764900000000 implements MigrationInterface {
  name = 'CompressedDecisions1764900000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `decision` ADD `packed` longblob NULL');
    await runner.query('UPDATE `decision` SET `packed` = COMPRESS(`body`)');
    await runner.query('ALTER TABLE `decision` DROP COLUMN `body`, CHANGE `packed` `body` longblob NOT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `decision` ADD `plain` longtext NULL');
    await runner.query('UPDATE `decision` SET `plain` = CONVERT(UNCOMPRESS(`body`) USING utf8mb4)');
    await runner.query('ALTER TABLE `decision` DROP COLUMN `body`, CHANGE `plain` `body` longtext NOT NULL');
  }
}
