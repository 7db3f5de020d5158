import type { MigrationInterface, QueryRunner } from 'typeorm';

interface Json {
  readonly [member: string]: unknown;
}

interface Pipeline extends Json {
  readonly key: string;
  readonly of: string;
  readonly stages?: readonly Json[];
}

interface Charter extends Json {
  readonly pipelines?: readonly Pipeline[];
}

/** A lead says in which pipeline it stands, and into which it came; one is open for an e-mail in each pipeline. */
export class PipelinesOfLeads1766500000000 implements MigrationInterface {
  name = 'PipelinesOfLeads1766500000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteStages(runner, (stage) => ({ beside: false, mergedFrom: [], ...stage }));
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `pipeline` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL, ADD COLUMN `came_into` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL',
    );
    const [inForce] = (await runner.query('SELECT `body` FROM `charter` WHERE `in_force` = 1')) as { body: string }[];
    const { pipelines = [] } = inForce === undefined ? {} : (JSON.parse(inForce.body) as Charter);
    // Until now a charter had one pipeline for leads.
    const only = pipelines.find(({ of }) => of === 'lead')?.key ?? 'leads';
    await runner.query('UPDATE `lead` SET `pipeline` = ?', [only]);
    // The lead that a join keeps for undoing has the columns, too.
    await runner.query(
      "UPDATE `joined_lead` SET `undo` = JSON_SET(`undo`, '$.lead.pipeline', ?, '$.lead.cameInto', NULL)",
      [only],
    );
    await runner.query(
      'ALTER TABLE `lead` MODIFY COLUMN `pipeline` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL, DROP INDEX `lead_one_open_per_email`, ADD UNIQUE INDEX `lead_one_open_per_email` (`open_email`, `pipeline`)',
    );
    // Moves are counted by time; no count goes by rule any more.
    await runner.query(
      'ALTER TABLE `record_change` DROP INDEX `record_change_by_rule`, ADD INDEX `record_change_by_time` (`field`, `at`)',
    );
  }

  /** An e-mail keeps its oldest open lead as the one to which inquiries are added. */
  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `record_change` DROP INDEX `record_change_by_time`, ADD INDEX `record_change_by_rule` (`field`, `rule`)',
    );
    await rewriteStages(runner, ({ beside: _, mergedFrom: __, ...stage }) => stage);
    await runner.query("UPDATE `joined_lead` SET `undo` = JSON_REMOVE(`undo`, '$.lead.pipeline', '$.lead.cameInto')");
    await runner.query(
      'UPDATE `lead` l JOIN (SELECT `open_email`, MIN(`id`) AS first FROM `lead` WHERE `open_email` IS NOT NULL GROUP BY `open_email`) o ON o.open_email = l.`open_email` SET l.`open_email` = NULL WHERE l.`id` > o.first',
    );
    await runner.query(
      'ALTER TABLE `lead` DROP INDEX `lead_one_open_per_email`, ADD UNIQUE INDEX `lead_one_open_per_email` (`open_email`), DROP COLUMN `pipeline`, DROP COLUMN `came_into`',
    );
  }
}

async function rewriteStages(runner: QueryRunner, rewrite: (stage: Json) => Json): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const charter = JSON.parse(body) as Charter;
    const pipelines = charter.pipelines?.map((one) => ({ ...one, stages: one.stages?.map(rewrite) }));
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [
      JSON.stringify({ ...charter, pipelines }),
      id,
    ]);
  }
}
