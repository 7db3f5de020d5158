import type { MigrationInterface, QueryRunner } from 'typeorm';

type Json = Readonly<Record<string, unknown>>;

interface Charter extends Json {
  readonly verdicts?: readonly Json[];
  readonly gates?: readonly Json[];
}

/** Verdicts get recipients of notices, nobody at first; gates get required fields and a least time in the stage. */
export class GatesInFull1766300000000 implements MigrationInterface {
  name = 'GatesInFull1766300000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteCharters(runner, (charter) => ({
      ...charter,
      ...each(charter, 'verdicts', (one) => ({ notify: [], ...one })),
      ...each(charter, 'gates', (one) => ({ requiredFields: [], minDays: 0, ...one })),
    }));
  }

  /** Required fields, times and recipients are lost: the version before has no place for them. */
  async down(runner: QueryRunner): Promise<void> {
    await rewriteCharters(runner, (charter) => ({
      ...charter,
      ...each(charter, 'verdicts', ({ notify: _, ...one }) => one),
      ...each(charter, 'gates', ({ requiredFields: _, minDays: __, ...one }) => one),
    }));
  }
}

/** A list of a charter changed one by one; nothing where there is none. */
function each(charter: Charter, list: 'verdicts' | 'gates', change: (one: Json) => Json): Partial<Charter> {
  const { [list]: all } = charter;
  return all === undefined ? {} : { [list]: all.map(change) };
}

async function rewriteCharters(runner: QueryRunner, rewrite: (charter: Charter) => Charter): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters)
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [
      JSON.stringify(rewrite(JSON.parse(body) as Charter)),
      id,
    ]);
}
