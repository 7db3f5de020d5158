import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A population is read from indexes alone: amounts with currency and day, days, activities with their kind. */
export class PopulationIndexes1764200000000 implements MigrationInterface {
  name = 'PopulationIndexes1764200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `field_value` DROP INDEX `field_value_by_number`, ADD INDEX `field_value_by_number` (`field`, `number`, `currency`, `day`), ADD INDEX `field_value_by_day` (`field`, `day`)',
    );
    await runner.query(
      'ALTER TABLE `activity` DROP INDEX `activity_by_record`, ADD INDEX `activity_by_record` (`record`, `at`, `kind`)',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `activity` DROP INDEX `activity_by_record`, ADD INDEX `activity_by_record` (`record`, `at`)',
    );
    await runner.query(
      'ALTER TABLE `field_value` DROP INDEX `field_value_by_day`, DROP INDEX `field_value_by_number`, ADD INDEX `field_value_by_number` (`field`, `number`)',
    );
  }
}
