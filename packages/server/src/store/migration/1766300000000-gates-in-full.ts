import type { MigrationInterface, QueryRunner } from 'typeorm';

type Json = Readonly<Record<string, unknown>>;

interface Charter extends Json {
  readonly verdicts?: readonly Json[];
  readonly gates?: readonly Json[];
}

/** Verdicts say who is told, nobody at first; gates say which fields must be filled, and how long a record must stand in the stage. */
export class GatesInFull1766300000000 implements MigrationInterface {
  name = 'GatesInFull1766300000000';

  async up(runner: QueryRunner): Promise<void> {
    await rewriteCharters(runner, (charter) => ({
      ...charter,
      ...each(charter, 'verdicts', (one) => ({ tells: [], ...one })),
      ...each(charter, 'gates', (one) => ({ filled: [], least: 0, ...one })),
    }));
  }

  /** What is not known to the version before is lost: gates that asked for more ask for their condition alone. */
  async down(runner: QueryRunner): Promise<void> {
    await rewriteCharters(runner, (charter) => ({
      ...charter,
      ...each(charter, 'verdicts', ({ tells: _, ...one }) => one),
      ...each(charter, 'gates', ({ filled: _, least: __, ...one }) => one),
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
