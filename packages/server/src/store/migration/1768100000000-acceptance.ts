import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Owners accept what a stream gave them, or give it back. */
export class Acceptance1768100000000 implements MigrationInterface {
  name = 'Acceptance1768100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `acceptance` varchar(8) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD COLUMN `given_back_by` longtext NULL',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `lead` DROP COLUMN `acceptance`, DROP COLUMN `given_back_by`');
  }
}
