import type { MigrationInterface, QueryRunner } from 'typeorm';

/** What governs decisions has a stamp, so that a server reads and binds it only when it changed, whoever changed it. */
export class WorldStamp1764800000000 implements MigrationInterface {
  name = 'WorldStamp1764800000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`world_stamp\` (
      \`id\` tinyint UNSIGNED NOT NULL,
      \`stamp\` bigint UNSIGNED NOT NULL,
      PRIMARY KEY (\`id\`)
    ) ENGINE=InnoDB`);
    await runner.query('INSERT INTO `world_stamp` VALUES (1, 1)');
    for (const table of TABLES)
      for (const event of EVENTS)
        await runner.query(
          `CREATE TRIGGER \`${nameOf(table, event)}\` AFTER ${event} ON \`${table}\` FOR EACH ROW UPDATE \`world_stamp\` SET \`stamp\` = \`stamp\` + 1`,
        );
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of TABLES)
      for (const event of EVENTS) await runner.query(`DROP TRIGGER \`${nameOf(table, event)}\``);
    await runner.query('DROP TABLE `world_stamp`');
  }
}

const TABLES = [
  'charter',
  'field',
  'rate',
  'activity_kind',
  'person',
  'team',
  'team_member',
  'queue',
  'queue_member',
] as const;
const EVENTS = ['INSERT', 'UPDATE', 'DELETE'] as const;

function nameOf(table: string, event: string): string {
  return `stamp_${table}_${event.toLowerCase()}`;
}
