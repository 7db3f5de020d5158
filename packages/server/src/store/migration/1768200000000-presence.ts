import type { MigrationInterface, QueryRunner } from 'typeorm';

/** When people who are signed in were last seen. */
export class Presence1768200000000 implements MigrationInterface {
  name = 'Presence1768200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'CREATE TABLE `rep_seen` (`rep` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, `at` datetime(3) NOT NULL, PRIMARY KEY (`rep`)) ENGINE=InnoDB',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `rep_seen`');
  }
}
