import type { MigrationInterface, QueryRunner } from 'typeorm';

/** A lead knows how many deals of it are open: of one that has any, no gate makes another. */
export class DealsOfLeads1768500000000 implements MigrationInterface {
  name = 'DealsOfLeads1768500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      'ALTER TABLE `lead` ADD COLUMN `open_deals` int unsigned NOT NULL DEFAULT 0 AFTER `given_back_by`',
    );
    await runner.query(
      "UPDATE `lead` l JOIN (SELECT lead, COUNT(*) AS n FROM deal WHERE status = 'open' AND lead IS NOT NULL GROUP BY lead) d ON d.lead = l.id SET l.open_deals = d.n",
    );
    await runner.query('ALTER TABLE `deal` ADD INDEX `deal_by_closing` (`status`, `closed_at`)');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `deal` DROP INDEX `deal_by_closing`');
    await runner.query('ALTER TABLE `lead` DROP COLUMN `open_deals`');
  }
}
