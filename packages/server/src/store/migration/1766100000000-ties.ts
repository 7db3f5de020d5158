import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Contacts, companies and deals beside leads: contacts are made of the e-mails that leads have, companies of what they name; both
 * and deals have values of their own. A lead knows its contact and its company by their ids.
 */
export class Ties1766100000000 implements MigrationInterface {
  name = 'Ties1766100000000';

  async up(runner: QueryRunner): Promise<void> {
    const leads = (await runner.query('SELECT 1 FROM `lead` LIMIT 1')) as unknown[];
    for (const [i, change] of UP.entries()) {
      const step = `Putting leads under contacts and companies: step ${i + 1} of ${UP.length}`;
      if (leads.length > 0) runner.dataSource.logger.logMigration(step);
      await runner.query(change);
    }
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const change of DOWN) await runner.query(change);
  }
}

const KEY = 'varchar(48) CHARACTER SET ascii COLLATE ascii_bin';
const FOLDED = (length: number): string => `varchar(${length}) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin`;
const SCORES = `\`fit\` double NULL,
    \`engagement\` double NULL,
    \`rank_order\` double NOT NULL,
    \`admitted\` varchar(8) NOT NULL,
    \`score_set\` ${KEY} NULL,
    \`verdict\` varchar(16) NULL,
    \`fit_band\` ${KEY} NULL,
    \`engagement_band\` ${KEY} NULL`;
const UNROUTED = `\`id\` int UNSIGNED NOT NULL,
    \`version\` int UNSIGNED NOT NULL,
    \`name\` varchar(200) NOT NULL,
    \`owner\` ${KEY} NULL,
    \`arrived\` datetime(3) NOT NULL,
    \`touched_at\` datetime(3) NOT NULL,
    \`due\` datetime(3) NULL,
    \`touched\` tinyint NOT NULL,
    \`changes\` int UNSIGNED NOT NULL,
    \`charter\` int UNSIGNED NULL,
    \`scored_at\` datetime(3) NULL`;
const indexesOf = (kind: string): string =>
  ['rank_order', 'fit', 'engagement', 'arrived']
    .map(
      (column) =>
        `INDEX \`${kind}_by_${column === 'rank_order' ? 'rank' : column === 'arrived' ? 'arrival' : column}\` (\`${column}\`, \`id\`)`,
    )
    .join(',\n    ');

const UP = [
  "ALTER TABLE `saved_view` ADD COLUMN `kind` varchar(7) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'lead'",
  "ALTER TABLE `field_value` ADD COLUMN `origin` varchar(9) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'trusted', ADD COLUMN `set_at` datetime(3) NULL",
  `CREATE TABLE \`contact\` (
    ${SCORES},
    ${UNROUTED},
    \`email\` ${FOLDED(320)} NULL,
    \`company\` int UNSIGNED NULL,
    UNIQUE INDEX \`contact_one_per_email\` (\`email\`),
    ${indexesOf('contact')},
    INDEX \`contact_by_owner\` (\`owner\`, \`rank_order\`, \`id\`),
    INDEX \`contact_by_due\` (\`due\`, \`id\`),
    INDEX \`contact_by_company\` (\`company\`),
    FULLTEXT INDEX \`contact_by_words\` (\`name\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`contact_alias\` (
    \`folded\` ${FOLDED(320)} NOT NULL,
    \`contact\` int UNSIGNED NOT NULL,
    INDEX \`contact_alias_by_contact\` (\`contact\`),
    PRIMARY KEY (\`folded\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`company_key\` (
    \`kind\` varchar(6) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`folded\` ${FOLDED(190)} NOT NULL,
    \`company\` int UNSIGNED NOT NULL,
    INDEX \`company_key_by_company\` (\`company\`),
    PRIMARY KEY (\`kind\`, \`folded\`, \`company\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`no_company\` (
    \`kind\` varchar(6) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`folded\` ${FOLDED(190)} NOT NULL,
    \`word\` varchar(190) NOT NULL,
    PRIMARY KEY (\`kind\`, \`folded\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`suggestion\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`kind\` varchar(7) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`older\` int UNSIGNED NOT NULL,
    \`younger\` int UNSIGNED NOT NULL,
    \`at\` datetime(3) NOT NULL,
    \`settled\` tinyint NOT NULL,
    UNIQUE INDEX \`suggestion_once\` (\`older\`, \`younger\`),
    INDEX \`suggestion_by_younger\` (\`younger\`),
    INDEX \`suggestion_by_age\` (\`settled\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  ...['INSERT', 'UPDATE', 'DELETE'].map(
    (event) =>
      `CREATE TRIGGER \`stamp_no_company_${event.toLowerCase()}\` AFTER ${event} ON \`no_company\` FOR EACH ROW UPDATE \`world_stamp\` SET \`stamp\` = \`stamp\` + 1`,
  ),
  "INSERT INTO `no_company` (`kind`, `folded`, `word`) VALUES ('name', '-', '-'), ('name', 'n/a', 'n/a'), ('name', 'na', 'na'), ('name', 'none', 'none'), ('name', 'private', 'private')",
  `CREATE TABLE \`joined_party\` (
    \`id\` int UNSIGNED NOT NULL,
    \`kind\` varchar(7) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`older\` int UNSIGNED NOT NULL,
    \`at\` datetime(3) NOT NULL,
    \`person\` ${KEY} NOT NULL,
    \`undo\` longtext NOT NULL,
    INDEX \`joined_party_by_older\` (\`older\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`tie_due\` (
    \`record\` int UNSIGNED NOT NULL,
    \`cause\` int UNSIGNED NOT NULL,
    \`chain\` tinyint UNSIGNED NOT NULL,
    \`at\` datetime(3) NOT NULL,
    INDEX \`tie_due_by_age\` (\`at\`, \`record\`),
    PRIMARY KEY (\`record\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`deal\` (
    ${SCORES},
    ${UNROUTED},
    \`contact\` int UNSIGNED NULL,
    \`company\` int UNSIGNED NULL,
    \`lead\` int UNSIGNED NULL,
    \`status\` varchar(14) NOT NULL,
    \`stage\` ${KEY} NOT NULL,
    \`stage_since\` datetime(3) NOT NULL,
    \`closed_at\` datetime(3) NULL,
    \`close_reason\` varchar(500) NULL,
    INDEX \`deal_by_rank\` (\`status\`, \`rank_order\`, \`id\`),
    INDEX \`deal_by_fit\` (\`status\`, \`fit\`, \`id\`),
    INDEX \`deal_by_engagement\` (\`status\`, \`engagement\`, \`id\`),
    INDEX \`deal_by_arrival\` (\`status\`, \`arrived\`, \`id\`),
    INDEX \`deal_by_owner\` (\`owner\`, \`status\`, \`rank_order\`, \`id\`),
    INDEX \`deal_by_stage\` (\`stage\`, \`status\`, \`rank_order\`, \`id\`),
    INDEX \`deal_by_due\` (\`due\`, \`id\`),
    INDEX \`deal_by_contact\` (\`contact\`),
    INDEX \`deal_by_company\` (\`company\`),
    INDEX \`deal_by_lead\` (\`lead\`),
    FULLTEXT INDEX \`deal_by_words\` (\`name\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `ALTER TABLE \`company\`
    DROP INDEX \`company_by_name\`,
    ADD COLUMN \`version\` int UNSIGNED NOT NULL DEFAULT 1,
    ADD COLUMN \`owner\` ${KEY} NULL,
    ADD COLUMN \`arrived\` datetime(3) NULL,
    ADD COLUMN \`touched_at\` datetime(3) NULL,
    ADD COLUMN \`country\` char(2) CHARACTER SET ascii COLLATE ascii_bin NULL,
    ADD COLUMN \`identity\` ${FOLDED(400)} NULL,
    ADD INDEX \`company_by_fit\` (\`fit\`, \`id\`),
    ADD INDEX \`company_by_engagement\` (\`engagement\`, \`id\`),
    ADD INDEX \`company_by_arrival\` (\`arrived\`, \`id\`),
    ADD INDEX \`company_by_owner\` (\`owner\`, \`rank_order\`, \`id\`),
    ADD FULLTEXT INDEX \`company_by_words\` (\`name\`)`,
  `UPDATE \`company\` c JOIN \`record\` r ON r.\`id\` = c.\`id\`
     LEFT JOIN (SELECT \`company_key\`, MIN(\`arrived\`) AS first, MAX(\`touched_at\`) AS last FROM \`lead\` GROUP BY \`company_key\`) l ON l.\`company_key\` = c.\`folded\`
   SET c.\`arrived\` = COALESCE(l.first, r.\`created_at\`), c.\`touched_at\` = COALESCE(l.last, r.\`created_at\`),
     c.\`identity\` = c.\`folded\`, c.\`due\` = r.\`created_at\`, c.\`touched\` = 1`,
  "INSERT INTO `company_key` (`kind`, `folded`, `company`) SELECT 'name', `folded`, `id` FROM `company`",
  `ALTER TABLE \`company\` DROP COLUMN \`folded\`, ALTER \`version\` DROP DEFAULT,
    MODIFY COLUMN \`arrived\` datetime(3) NOT NULL, MODIFY COLUMN \`touched_at\` datetime(3) NOT NULL,
    MODIFY COLUMN \`identity\` ${FOLDED(400)} NOT NULL, ADD UNIQUE INDEX \`company_one_per_identity\` (\`identity\`)`,
  `ALTER TABLE \`lead\` ADD COLUMN \`contact\` int UNSIGNED NULL AFTER \`company_key\`, ADD COLUMN \`company_id\` int UNSIGNED NULL AFTER \`contact\``,
  "UPDATE `lead` l JOIN `company_key` k ON k.`kind` = 'name' AND k.`folded` = l.`company_key` SET l.`company_id` = k.`company`",
  // Contacts: one for each e-mail, with the name, the owner-less standing and the company of its newest lead.
  `CREATE TEMPORARY TABLE \`made\` (\`n\` int UNSIGNED NOT NULL AUTO_INCREMENT PRIMARY KEY, \`email\` ${FOLDED(320)} NOT NULL, \`newest\` int UNSIGNED NOT NULL, \`first\` datetime(3) NOT NULL, \`last\` datetime(3) NOT NULL)`,
  "INSERT INTO `made` (`email`, `newest`, `first`, `last`) SELECT `email`, MAX(`id`), MIN(`arrived`), MAX(`touched_at`) FROM `lead` WHERE `email` IS NOT NULL AND `email` <> '' GROUP BY `email`",
  'SET @before = (SELECT COALESCE(MAX(`id`), 0) FROM `record`)',
  "INSERT INTO `record` (`id`, `kind`, `created_at`) SELECT @before + `n`, 'contact', `first` FROM `made`",
  `INSERT INTO \`contact\` (\`id\`, \`version\`, \`name\`, \`email\`, \`company\`, \`owner\`, \`arrived\`, \`touched_at\`, \`due\`, \`touched\`, \`changes\`, \`admitted\`, \`rank_order\`)
     SELECT @before + m.\`n\`, 1, l.\`name\`, m.\`email\`, l.\`company_id\`, NULL, m.\`first\`, m.\`last\`, m.\`first\`, 1, 0, 'no', -1e9
     FROM \`made\` m JOIN \`lead\` l ON l.\`id\` = m.\`newest\``,
  'UPDATE `lead` l JOIN `contact` c ON c.`email` = l.`email` SET l.`contact` = c.`id`',
  'DROP TEMPORARY TABLE `made`',
  'ALTER TABLE `lead` DROP INDEX `lead_by_company`, DROP COLUMN `company_key`, ADD INDEX `lead_by_company` (`company_id`), ADD INDEX `lead_by_contact` (`contact`)',
];

const DOWN = [
  `ALTER TABLE \`lead\` DROP INDEX \`lead_by_company\`, DROP INDEX \`lead_by_contact\`, ADD COLUMN \`company_key\` ${FOLDED(190)} NULL AFTER \`company\`, ADD INDEX \`lead_by_company\` (\`company_key\`)`,
  "UPDATE `lead` l JOIN `company_key` k ON k.`kind` = 'name' AND k.`company` = l.`company_id` SET l.`company_key` = k.`folded`",
  'ALTER TABLE `lead` DROP COLUMN `contact`, DROP COLUMN `company_id`',
  "DELETE FROM `company` WHERE NOT EXISTS (SELECT 1 FROM `company_key` k WHERE k.`kind` = 'name' AND k.`company` = `company`.`id`)",
  `ALTER TABLE \`company\` DROP INDEX \`company_one_per_identity\`, DROP INDEX \`company_by_fit\`, DROP INDEX \`company_by_engagement\`,
    DROP INDEX \`company_by_arrival\`, DROP INDEX \`company_by_owner\`, DROP INDEX \`company_by_words\`,
    ADD COLUMN \`folded\` ${FOLDED(190)} NULL AFTER \`name\``,
  "UPDATE `company` c JOIN (SELECT `company`, MIN(`folded`) AS `folded` FROM `company_key` WHERE `kind` = 'name' GROUP BY `company`) k ON k.`company` = c.`id` SET c.`folded` = k.`folded`",
  // Of several companies of one name the oldest stays.
  'DELETE c FROM `company` c JOIN `company` older ON older.`folded` = c.`folded` AND older.`id` < c.`id`',
  `ALTER TABLE \`company\` MODIFY COLUMN \`folded\` ${FOLDED(190)} NOT NULL, ADD UNIQUE INDEX \`company_by_name\` (\`folded\`),
    DROP COLUMN \`version\`, DROP COLUMN \`owner\`, DROP COLUMN \`arrived\`, DROP COLUMN \`touched_at\`, DROP COLUMN \`country\`, DROP COLUMN \`identity\``,
  "DELETE FROM `side_score` WHERE `record` IN (SELECT `id` FROM `record` WHERE `kind` IN ('contact', 'deal'))",
  "DELETE FROM `field_value` WHERE `field` LIKE '%.%'",
  "DELETE FROM `activity` WHERE `record` IN (SELECT `id` FROM `record` WHERE `kind` IN ('contact', 'company', 'deal'))",
  "DELETE FROM `record` WHERE `kind` IN ('contact', 'deal') OR (`kind` = 'company' AND `id` NOT IN (SELECT `id` FROM `company`))",
  ...['insert', 'update', 'delete'].map((event) => `DROP TRIGGER \`stamp_no_company_${event}\``),
  'DROP TABLE `deal`, `joined_party`, `tie_due`, `suggestion`, `no_company`, `company_key`, `contact_alias`, `contact`',
  'ALTER TABLE `field_value` DROP COLUMN `origin`, DROP COLUMN `set_at`',
  "DELETE FROM `saved_view` WHERE `kind` <> 'lead'",
  'ALTER TABLE `saved_view` DROP COLUMN `kind`',
];
