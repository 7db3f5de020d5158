import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Each index of values costs an entry for every field of every lead: days and unreadable values are found by the two that stay. */
export class FewerValueIndexes1765000000000 implements MigrationInterface {
  name = 'FewerValueIndexes1765000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `field_value` DROP INDEX `field_value_by_day`, DROP INDEX `field_value_by_kind`');
  }

  async down(runner: QueryRunner): Promise<void> {
    // Short decisions are kept plain since; the migration before expects all of them compressed.
    await runner.query("UPDATE `decision` SET `body` = COMPRESS(`body`) WHERE LEFT(`body`, 2) = '{\"'");
    await runner.query(
      'ALTER TABLE `field_value` ADD INDEX `field_value_by_day` (`field`, `day`), ADD INDEX `field_value_by_kind` (`field`, `kind`)',
    );
  }
}
