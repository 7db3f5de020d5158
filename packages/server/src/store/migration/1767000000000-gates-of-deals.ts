import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Deals have looks at the gates of their stage, and know the pipeline into which they came. */
export class GatesOfDeals1767000000000 implements MigrationInterface {
  name = 'GatesOfDeals1767000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query("ALTER TABLE deal ADD looks longtext NOT NULL DEFAULT '{}'");
    await runner.query('ALTER TABLE deal ALTER looks DROP DEFAULT');
    await runner.query('ALTER TABLE deal ADD came_into varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE deal DROP COLUMN came_into');
    await runner.query('ALTER TABLE deal DROP COLUMN looks');
  }
}
