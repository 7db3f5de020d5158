import type { MigrationInterface, QueryRunner } from 'typeorm';

const KEY = 'varchar(48) CHARACTER SET ascii COLLATE ascii_bin';

/** Streams run by schedules, or when a person begins it. */
export class Schedules1768000000000 implements MigrationInterface {
  name = 'Schedules1768000000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      `CREATE TABLE \`stream_schedule\` (\`stream\` ${KEY} NOT NULL, \`schedule\` longtext NOT NULL, \`since\` datetime(3) NOT NULL, PRIMARY KEY (\`stream\`)) ENGINE=InnoDB`,
    );
    await runner.query(`CREATE TABLE \`stream_run\` (
      \`id\` int unsigned NOT NULL AUTO_INCREMENT,
      \`stream\` ${KEY} NOT NULL,
      \`running\` tinyint NULL,
      \`due\` datetime(3) NULL,
      \`person\` ${KEY} NULL,
      \`by\` varchar(120) NULL,
      \`state\` varchar(8) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`started_at\` datetime(3) NOT NULL,
      \`ended_at\` datetime(3) NULL,
      \`leads\` int unsigned NOT NULL,
      \`upto\` int unsigned NOT NULL,
      \`reached\` int unsigned NOT NULL,
      \`done\` int unsigned NOT NULL,
      \`given\` int unsigned NOT NULL,
      \`failed\` int unsigned NOT NULL,
      UNIQUE INDEX \`stream_run_one\` (\`stream\`, \`running\`),
      UNIQUE INDEX \`stream_run_due\` (\`stream\`, \`due\`),
      PRIMARY KEY (\`id\`)
    ) ENGINE=InnoDB`);
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `stream_run`');
    await runner.query('DROP TABLE `stream_schedule`');
  }
}
