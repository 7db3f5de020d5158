import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Choices for leads with an owner whose territory a charter changed. */
export class Redraws1767400000000 implements MigrationInterface {
  name = 'Redraws1767400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`redraw\` (
      \`charter\` int UNSIGNED NOT NULL,
      \`choice\` varchar(9) NOT NULL,
      \`by\` varchar(120) NOT NULL,
      \`at\` datetime(3) NOT NULL,
      PRIMARY KEY (\`charter\`)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE \`redraw_move\` (
      \`charter\` int UNSIGNED NOT NULL,
      \`record\` int UNSIGNED NOT NULL,
      \`from\` ${KEY} NOT NULL,
      \`to\` ${KEY} NULL,
      PRIMARY KEY (\`charter\`, \`record\`)
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `redraw_move`');
    await runner.query('DROP TABLE `redraw`');
  }
}

const KEY = 'varchar(48) CHARACTER SET ascii COLLATE ascii_bin';
