import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Several score sets in a charter: which one grades a lead, and what the others give it beside. */
export class ScoreSets1764400000000 implements MigrationInterface {
  name = 'ScoreSets1764400000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const change of UP) await runner.query(change);
    await withCharters(runner, ({ scoreSet, ...charter }) => ({
      ...charter,
      version: 2,
      scoreSets: [{ ...(scoreSet as Json), of: 'lead', on: true, when: { test: 'all', of: [] } }],
    }));
  }

  /** Of several sets the first is kept: a charter could have but one. */
  async down(runner: QueryRunner): Promise<void> {
    await withCharters(runner, ({ scoreSets, ...charter }) => {
      const [first] = scoreSets as readonly Json[];
      const added = ['of', 'on', 'when'];
      const scoreSet = Object.fromEntries(Object.entries(first ?? {}).filter(([name]) => !added.includes(name)));
      return { ...charter, version: 1, scoreSet };
    });
    for (const change of DOWN) await runner.query(change);
  }
}

type Json = Readonly<Record<string, unknown>>;

async function withCharters(runner: QueryRunner, change: (charter: Json) => Json): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const charter = JSON.stringify(change(JSON.parse(body) as Json));
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [charter, id]);
  }
}

const UP = [
  `ALTER TABLE \`lead\`
    ADD \`admitted\` varchar(8) NOT NULL,
    ADD \`score_set\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL`,
  `CREATE TABLE \`side_score\` (
    \`record\` int UNSIGNED NOT NULL,
    \`score_set\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`fit\` double NULL,
    \`engagement\` double NULL,
    INDEX \`side_score_by_set\` (\`score_set\`),
    PRIMARY KEY (\`record\`, \`score_set\`)
  ) ENGINE=InnoDB`,
  // Until now every charter had one set, and it admitted every lead.
  "UPDATE `lead` JOIN `charter` ON `charter`.`number` = `lead`.`charter` SET `lead`.`admitted` = 'yes', `lead`.`score_set` = JSON_VALUE(`charter`.`body`, '$.scoreSet.key')",
  `UPDATE \`decision\` JOIN \`charter\` ON \`charter\`.\`number\` = \`decision\`.\`charter\`
    SET \`decision\`.\`body\` = JSON_SET(\`decision\`.\`body\`,
      '$.score.admitted', 'yes',
      '$.score.set', JSON_VALUE(\`charter\`.\`body\`, '$.scoreSet.key'),
      '$.score.beside', JSON_EXTRACT('[]', '$'))`,
];

const DOWN = ['DROP TABLE `side_score`', 'ALTER TABLE `lead` DROP COLUMN `score_set`, DROP COLUMN `admitted`'];
