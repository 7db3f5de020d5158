import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Limits of tries and requests are kept here, so that servers share them. */
export class SharedLimits1765400000000 implements MigrationInterface {
  name = 'SharedLimits1765400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`sign_in_pause\` (
      \`hash\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`failures\` int UNSIGNED NOT NULL,
      \`last\` datetime(3) NOT NULL,
      \`until\` datetime(3) NOT NULL,
      PRIMARY KEY (\`hash\`),
      INDEX \`sign_in_pause_by_age\` (\`last\`)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE \`request_count\` (
      \`hash\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`hits\` int UNSIGNED NOT NULL,
      \`ends\` bigint UNSIGNED NOT NULL,
      PRIMARY KEY (\`hash\`),
      INDEX \`request_count_by_end\` (\`ends\`)
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `sign_in_pause`');
    await runner.query('DROP TABLE `request_count`');
  }
}
