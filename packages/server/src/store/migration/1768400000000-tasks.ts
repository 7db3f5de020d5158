import type { MigrationInterface, QueryRunner } from 'typeorm';

const KEY = 'varchar(48) CHARACTER SET ascii COLLATE ascii_bin';
const WORD = 'varchar(10) CHARACTER SET ascii COLLATE ascii_bin';

/** Tasks: something to be done about a record by a time; enacting may leave those of rules out. */
export class Tasks1768400000000 implements MigrationInterface {
  name = 'Tasks1768400000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`task\` (
      \`id\` int unsigned NOT NULL AUTO_INCREMENT,
      \`record\` int unsigned NOT NULL,
      \`version\` int unsigned NOT NULL,
      \`title\` varchar(200) NOT NULL,
      \`work\` ${WORD} NOT NULL,
      \`due\` datetime(3) NOT NULL,
      \`owner\` ${KEY} NULL,
      \`deputy_for\` ${KEY} NULL,
      \`state\` ${WORD} NOT NULL,
      \`result\` varchar(500) NULL,
      \`ended_at\` datetime(3) NULL,
      \`ended_by\` varchar(120) NOT NULL,
      \`made_by\` varchar(120) NOT NULL,
      \`made_at\` datetime(3) NOT NULL,
      \`rule\` ${KEY} NULL,
      \`charter\` int unsigned NULL,
      INDEX \`task_by_owner\` (\`owner\`, \`state\`, \`due\`, \`id\`),
      INDEX \`task_by_record\` (\`record\`, \`state\`, \`due\`, \`id\`),
      INDEX \`task_by_due\` (\`state\`, \`due\`, \`id\`),
      INDEX \`task_by_end\` (\`ended_at\`, \`id\`),
      INDEX \`task_by_deputy\` (\`deputy_for\`),
      PRIMARY KEY (\`id\`)
    ) ENGINE=InnoDB`);
    await runner.query('ALTER TABLE `job` ADD COLUMN `tasks` tinyint NOT NULL DEFAULT 1 AFTER `reach`');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `job` DROP COLUMN `tasks`');
    await runner.query('DROP TABLE `task`');
  }
}
