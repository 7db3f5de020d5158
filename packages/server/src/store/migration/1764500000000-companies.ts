import { fold } from '@relvik/core';
import type { MigrationInterface, QueryRunner } from 'typeorm';

const ROWS = 5000;
const LONGEST = 190;

/** Companies: what leads name as theirs, by the folded name, with scores of their own. */
export class Companies1764500000000 implements MigrationInterface {
  name = 'Companies1764500000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const change of UP) await runner.query(change);
    const names = new Map<string, string>();
    for (let after = 0; ;) {
      const leads = (await runner.query('SELECT `id`, `company` FROM `lead` WHERE `id` > ? ORDER BY `id` LIMIT ?', [
        after,
        ROWS,
      ])) as { id: number; company: string }[];
      if (leads.length === 0) break;
      const keyed = leads.flatMap(({ id, company }): [number, string][] => {
        const key = fold(company).slice(0, LONGEST);
        if (key === '') return [];
        names.set(key, company);
        return [[id, key]];
      });
      await runner.query(
        'CREATE TEMPORARY TABLE IF NOT EXISTS `keyed` (`id` int UNSIGNED PRIMARY KEY, `key` varchar(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin)',
      );
      await runner.query('DELETE FROM `keyed`');
      if (keyed.length > 0) await runner.query('INSERT INTO `keyed` VALUES ?', [keyed]);
      await runner.query(
        'UPDATE `lead` JOIN `keyed` ON `keyed`.`id` = `lead`.`id` SET `lead`.`company_key` = `keyed`.`key`',
      );
      after = leads.at(-1)?.id ?? after;
    }
    const all = [...names];
    for (let i = 0; i < all.length; i += ROWS) {
      const some = all.slice(i, i + ROWS);
      const at = new Date();
      const { insertId } = (await runner.query('INSERT INTO `record` (`kind`, `created_at`) VALUES ?', [
        some.map(() => ['company', at]),
      ])) as { insertId: number };
      await runner.query(
        'INSERT INTO `company` (`id`, `folded`, `name`, `due`, `changes`, `admitted`, `rank_order`) VALUES ?',
        [some.map(([key, name], n) => [insertId + n, key, name, at, 0, 'no', -1e9])],
      );
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const change of DOWN) await runner.query(change);
  }
}

const UP = [
  `ALTER TABLE \`lead\`
    ADD \`company_key\` varchar(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
    ADD INDEX \`lead_by_company\` (\`company_key\`)`,
  `CREATE TABLE \`company\` (
    \`id\` int UNSIGNED NOT NULL,
    \`name\` varchar(200) NOT NULL,
    \`folded\` varchar(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
    \`due\` datetime(3) NULL,
    \`changes\` int UNSIGNED NOT NULL,
    \`admitted\` varchar(8) NOT NULL,
    \`score_set\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`fit\` double NULL,
    \`engagement\` double NULL,
    \`rank_order\` double NOT NULL,
    \`fit_band\` tinyint UNSIGNED NULL,
    \`engagement_band\` tinyint UNSIGNED NULL,
    \`grade\` varchar(90) NULL,
    \`verdict\` varchar(16) NULL,
    \`charter\` int UNSIGNED NULL,
    \`scored_at\` datetime(3) NULL,
    UNIQUE INDEX \`company_by_name\` (\`folded\`),
    INDEX \`company_by_rank\` (\`rank_order\`, \`id\`),
    INDEX \`company_by_due\` (\`due\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
];

const DOWN = [
  'DELETE FROM `side_score` WHERE `record` IN (SELECT `id` FROM `company`)',
  "DELETE FROM `record` WHERE `kind` = 'company'",
  'DROP TABLE `company`',
  'ALTER TABLE `lead` DROP INDEX `lead_by_company`, DROP COLUMN `company_key`',
];
