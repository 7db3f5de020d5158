import type { MigrationInterface, QueryRunner } from 'typeorm';

interface Json {
  readonly [member: string]: unknown;
}

interface Charter extends Json {
  readonly gates?: readonly Json[];
  readonly pipelines?: readonly (Json & { readonly stages?: readonly Json[] })[];
}

/** Gates may ask a person, or leave it to one; a stage says to which a hand may move on from it. */
export class Proposals1766600000000 implements MigrationInterface {
  name = 'Proposals1766600000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`proposal\` (
      \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
      \`record\` int UNSIGNED NOT NULL,
      \`gate\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`open_gate\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
      \`look\` varchar(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`stage\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`pick\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`charter\` int UNSIGNED NOT NULL,
      \`asked_at\` datetime(3) NOT NULL,
      \`team\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
      \`queue\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
      \`state\` varchar(10) NOT NULL,
      \`answer\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
      \`rule\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
      \`reason\` varchar(500) NULL,
      \`person\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
      \`by\` varchar(120) NOT NULL,
      \`decided_at\` datetime(3) NULL,
      \`why\` varchar(12) NULL,
      \`undo\` longtext NULL,
      PRIMARY KEY (\`id\`),
      UNIQUE INDEX \`proposal_once\` (\`record\`, \`open_gate\`),
      INDEX \`proposal_by_state\` (\`state\`, \`asked_at\`, \`id\`),
      INDEX \`proposal_by_gate\` (\`gate\`, \`decided_at\`)
    ) ENGINE=InnoDB`);
    await rewriteCharters(runner, {
      gate: (gate) => ({ decider: { kind: 'rule' }, ...gate }),
      stage: (stage) => ({ byHand: null, ...stage }),
    });
  }

  async down(runner: QueryRunner): Promise<void> {
    await rewriteCharters(runner, {
      gate: ({ decider: _, ...gate }) => gate,
      stage: ({ byHand: _, ...stage }) => stage,
    });
    await runner.query('DROP TABLE `proposal`');
  }
}

async function rewriteCharters(
  runner: QueryRunner,
  rewrite: { readonly gate: (gate: Json) => Json; readonly stage: (stage: Json) => Json },
): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const charter = JSON.parse(body) as Charter;
    const gates = charter.gates?.map(rewrite.gate);
    const pipelines = charter.pipelines?.map((one) => ({ ...one, stages: one.stages?.map(rewrite.stage) }));
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [
      JSON.stringify({ ...charter, gates, pipelines }),
      id,
    ]);
  }
}
