import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The page of a company counts the leads that are to be decided again because of it. */
export class TieDueByCause1766400000000 implements MigrationInterface {
  name = 'TieDueByCause1766400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('CREATE INDEX `tie_due_by_cause` ON `tie_due` (`cause`)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP INDEX `tie_due_by_cause` ON `tie_due`');
  }
}
