import type { MigrationInterface, QueryRunner } from 'typeorm';

const COLUMN = "`handling` varchar(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'decide'";
const WAYS = ['intake_key', 'form', 'import_file'];

/** Each way in says how far rules are asked of its leads. */
export class Handling1767900000000 implements MigrationInterface {
  name = 'Handling1767900000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const table of WAYS) await runner.query(`ALTER TABLE \`${table}\` ADD COLUMN ${COLUMN}`);
    await runner.query(
      `CREATE TABLE \`way_in\` (\`way\` varchar(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, ${COLUMN}, PRIMARY KEY (\`way\`)) ENGINE=InnoDB`,
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `way_in`');
    for (const table of WAYS) await runner.query(`ALTER TABLE \`${table}\` DROP COLUMN \`handling\``);
  }
}
