import type { MigrationInterface, QueryRunner } from 'typeorm';

interface Charter {
  readonly gates?: readonly Readonly<Record<string, unknown>>[];
}

/** Gates change values of the leads that pass them; a least time is given in days or in hours. */
export class EffectsOfGates1766800000000 implements MigrationInterface {
  name = 'EffectsOfGates1766800000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteGates(runner, (gate) => ({ minHours: 0, effects: [], ...gate }));
  }

  /** Effects, and times in hours, are lost: the version before has no place for them. */
  async down(runner: QueryRunner): Promise<void> {
    await rewriteGates(runner, ({ minHours: _, effects: __, ...gate }) => gate);
  }
}

type Gate = NonNullable<Charter['gates']>[number];

async function rewriteGates(runner: QueryRunner, rewrite: (gate: Gate) => Gate): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const { gates, ...charter } = JSON.parse(body) as Charter;
    const rewritten = gates === undefined ? charter : { ...charter, gates: gates.map(rewrite) };
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [JSON.stringify(rewritten), id]);
  }
}
