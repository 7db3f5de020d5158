import type { MigrationInterface, QueryRunner } from 'typeorm';

interface Charter {
  readonly territories?: { readonly list?: readonly Readonly<Record<string, unknown>>[] };
}

/** Territories cover regions and postal codes beside countries; fields hold them. */
export class Regions1767100000000 implements MigrationInterface {
  name = 'Regions1767100000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE field MODIFY `type` varchar(16) NOT NULL');
    await rewriteTerritories(
      runner,
      (own) => ({ regionField: null, postalField: null, ...own }),
      (one) => ({ regions: [], postalCodes: [], ...one }),
    );
  }

  /** Regions and postal codes are lost: the version before has no place for them. Their fields stay as texts. */
  async down(runner: QueryRunner): Promise<void> {
    await rewriteTerritories(
      runner,
      ({ regionField: _, postalField: __, ...own }) => own,
      ({ regions: _, postalCodes: __, ...one }) => one,
    );
    await runner.query("UPDATE field SET `type` = 'text' WHERE `type` IN ('region', 'postal-code')");
    await runner.query('ALTER TABLE field MODIFY `type` varchar(10) NOT NULL');
  }
}

type Part = Readonly<Record<string, unknown>>;

async function rewriteTerritories(
  runner: QueryRunner,
  rewrite: (territories: Part) => Part,
  rewriteOne: (territory: Part) => Part,
): Promise<void> {
  const charters = (await runner.query('SELECT `id`, `body` FROM `charter`')) as { id: number; body: string }[];
  for (const { id, body } of charters) {
    const { territories, ...charter } = JSON.parse(body) as Charter;
    if (territories === undefined) continue;
    const list = (territories.list ?? []).map(rewriteOne);
    const rewritten = { ...charter, territories: { ...rewrite(territories), list } };
    await runner.query('UPDATE `charter` SET `body` = ? WHERE `id` = ?', [JSON.stringify(rewritten), id]);
  }
}
