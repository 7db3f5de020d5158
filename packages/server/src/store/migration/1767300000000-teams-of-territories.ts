import type { MigrationInterface, QueryRunner } from 'typeorm';

interface Territories {
  readonly list?: readonly Readonly<Record<string, unknown>>[];
}

/** A territory has a code, a colour, a team and a manager. */
export class TeamsOfTerritories1767300000000 implements MigrationInterface {
  name = 'TeamsOfTerritories1767300000000';

  up(runner: QueryRunner): Promise<void> {
    return rewriteTerritories(runner, (one) => ({ code: null, colour: null, team: null, manager: null, ...one }));
  }

  /** They are lost: the version before has no place for them. */
  down(runner: QueryRunner): Promise<void> {
    return rewriteTerritories(runner, ({ code: _, colour: __, team: ___, manager: ____, ...one }) => one);
  }
}

type Rewrite = (territory: Readonly<Record<string, unknown>>) => Readonly<Record<string, unknown>>;

async function rewriteTerritories(runner: QueryRunner, rewrite: Rewrite): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const charter = JSON.parse(body) as { readonly territories?: Territories };
    if (charter.territories === undefined) continue;
    const territories = { ...charter.territories, list: (charter.territories.list ?? []).map(rewrite) };
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [
      JSON.stringify({ ...charter, territories }),
      id,
    ]);
  }
}
