import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A form, and a key, say into which pipeline their leads come. */
export class PipelinesOfWaysIn1766700000000 implements MigrationInterface {
  name = 'PipelinesOfWaysIn1766700000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const table of ['form', 'intake_key'])
      await runner.query(
        `ALTER TABLE \`${table}\` ADD COLUMN \`pipeline\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL`,
      );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of ['form', 'intake_key']) await runner.query(`ALTER TABLE \`${table}\` DROP COLUMN \`pipeline\``);
  }
}
