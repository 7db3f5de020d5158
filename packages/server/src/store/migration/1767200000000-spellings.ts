import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The admin's spellings of options, countries and regions, and regions of the admin's own. */
export class Spellings1767200000000 implements MigrationInterface {
  name = 'Spellings1767200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`spelling\` (
      \`list\` ${LIST},
      \`folded\` ${FOLDED},
      \`written\` varchar(190) NOT NULL,
      \`means\` varchar(190) NOT NULL,
      PRIMARY KEY (\`list\`, \`folded\`)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE \`spelling_correction\` (
      \`list\` ${LIST},
      \`folded\` ${FOLDED},
      \`record\` int UNSIGNED NOT NULL,
      \`field\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`raw\` text NOT NULL,
      \`means\` varchar(190) NOT NULL,
      PRIMARY KEY (\`list\`, \`folded\`, \`record\`, \`field\`)
    ) ENGINE=InnoDB`);
    await runner.query(`CREATE TABLE \`own_region\` (
      \`code\` varchar(27) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`name\` varchar(120) NOT NULL,
      PRIMARY KEY (\`code\`)
    ) ENGINE=InnoDB`);
    for (const table of STAMPED)
      for (const event of EVENTS)
        await runner.query(
          `CREATE TRIGGER \`stamp_${table}_${event.toLowerCase()}\` AFTER ${event} ON \`${table}\` FOR EACH ROW UPDATE \`world_stamp\` SET \`stamp\` = \`stamp\` + 1`,
        );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of [...STAMPED, 'spelling_correction']) await runner.query(`DROP TABLE \`${table}\``);
  }
}

const LIST = 'varchar(56) CHARACTER SET ascii COLLATE ascii_bin NOT NULL';
const FOLDED = 'varchar(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL';
const STAMPED = ['spelling', 'own_region'] as const;
const EVENTS = ['INSERT', 'UPDATE', 'DELETE'] as const;
