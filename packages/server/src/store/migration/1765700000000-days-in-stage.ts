import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A lead says since when it is in its stage: since its last move, by the history, else since its arrival. */
export class DaysInStage1765700000000 implements MigrationInterface {
  name = 'DaysInStage1765700000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `lead` ADD COLUMN `stage_since` datetime(3) NULL');
    await runner.query(
      "UPDATE `lead` l SET `stage_since` = COALESCE((SELECT MAX(c.`at`) FROM `record_change` c WHERE c.`record` = l.`id` AND c.`field` = 'stage'), l.`arrived`)",
    );
    // The lead that a join keeps for undoing has the column, too.
    await runner.query(
      "UPDATE `joined_lead` SET `undo` = JSON_SET(`undo`, '$.lead.stageSince', JSON_VALUE(`undo`, '$.lead.arrived'))",
    );
    await runner.query('ALTER TABLE `lead` MODIFY COLUMN `stage_since` datetime(3) NOT NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query("UPDATE `joined_lead` SET `undo` = JSON_REMOVE(`undo`, '$.lead.stageSince')");
    await runner.query('ALTER TABLE `lead` DROP COLUMN `stage_since`');
  }
}
