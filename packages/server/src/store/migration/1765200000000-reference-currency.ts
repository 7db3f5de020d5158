import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Rates are given in one currency, whatever the base of a charter is: so far it was that of the charter in force. */
export class ReferenceCurrency1765200000000 implements MigrationInterface {
  name = 'ReferenceCurrency1765200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(`CREATE TABLE \`reference_currency\` (
      \`id\` tinyint UNSIGNED NOT NULL,
      \`currency\` char(3) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      PRIMARY KEY (\`id\`)
    ) ENGINE=InnoDB`);
    const [row] = (await runner.query('SELECT `body` FROM `charter` WHERE `in_force` = 1')) as { body: string }[];
    const base = row === undefined ? 'EUR' : (JSON.parse(row.body) as { baseCurrency?: string }).baseCurrency;
    await runner.query('INSERT INTO `reference_currency` VALUES (1, ?)', [base ?? 'EUR']);
    // A rate of the reference itself says nothing.
    await runner.query('DELETE FROM `rate` WHERE `currency` = ?', [base ?? 'EUR']);
    await runner.query(
      'CREATE TRIGGER `stamp_reference_currency_update` AFTER UPDATE ON `reference_currency` FOR EACH ROW UPDATE `world_stamp` SET `stamp` = `stamp` + 1',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `reference_currency`');
  }
}
