import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Changes say what caused them in columns of their own and keep values that can be read back; effects leave by an outbox. */
export class OneWriter1764700000000 implements MigrationInterface {
  name = 'OneWriter1764700000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const change of UP) await runner.query(change);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const change of DOWN) await runner.query(change);
  }
}

const key = 'varchar(48) CHARACTER SET ascii COLLATE ascii_bin';
const place = (column: string): string => `CASE
    WHEN ${column} IS NULL THEN NULL
    WHEN ${column} LIKE 'owner:%' THEN JSON_OBJECT('kind', 'owner', 'rep', SUBSTRING(${column}, 7))
    WHEN ${column} LIKE 'queue:%' THEN JSON_OBJECT('kind', 'queue', 'queue', SUBSTRING(${column}, 7))
    WHEN ${column} LIKE 'bay:nobody-free' THEN '{"kind":"bay","reason":{"why":"nobody-free","route":"","rep":null,"team":null}}'
    WHEN ${column} LIKE 'bay:unjudged' THEN '{"kind":"bay","reason":{"why":"unjudged","fields":[]}}'
    WHEN ${column} LIKE 'bay:loop' THEN '{"kind":"bay","reason":{"why":"loop","gates":[]}}'
    ELSE '{"kind":"not-handed-over","verdict":null}' END`;
const value = (column: string): string =>
  `IF(${column} IS NULL, NULL, JSON_OBJECT('kind', 'shown', 'text', ${column}))`;
const COMPUTED = "'stage', 'grade', 'territory', 'status', 'place'";

const UP = [
  `ALTER TABLE \`record_change\`
    MODIFY \`from\` longtext NULL, MODIFY \`to\` longtext NULL,
    ADD \`reason\` varchar(500) NULL,
    ADD \`cause\` varchar(8) NOT NULL DEFAULT 'hand',
    ADD \`person\` ${key} NULL,
    ADD \`charter\` int UNSIGNED NULL,
    ADD \`rule\` ${key} NULL`,
  `UPDATE \`record_change\` SET
    \`cause\` = CASE
      WHEN \`by\` REGEXP '^charter [0-9]+' THEN 'rule'
      WHEN \`by\` LIKE 'form %' THEN 'form'
      WHEN \`by\` LIKE 'key %' THEN 'api'
      WHEN \`by\` LIKE 'file%' THEN 'csv'
      WHEN \`by\` = 'Relvik' THEN 'relvik'
      ELSE 'hand' END,
    \`charter\` = IF(\`by\` REGEXP '^charter [0-9]+', CAST(REGEXP_SUBSTR(\`by\`, '[0-9]+') AS UNSIGNED), NULL),
    \`rule\` = IF(\`by\` LIKE 'charter %, gate %', SUBSTRING_INDEX(\`by\`, 'gate ', -1), NULL)`,
  `UPDATE \`record_change\` SET
    \`person\` = (SELECT MIN(p.\`key\`) FROM \`person\` p WHERE p.\`name\` = \`record_change\`.\`by\`),
    \`by\` = CASE
      WHEN \`cause\` IN ('rule', 'relvik') THEN ''
      WHEN \`by\` LIKE 'form %' THEN SUBSTRING(\`by\`, 6)
      WHEN \`by\` LIKE 'key %' THEN SUBSTRING(\`by\`, 5)
      WHEN \`by\` LIKE 'file, by %' THEN SUBSTRING(\`by\`, 10)
      ELSE \`by\` END`,
  // "lost: too dear" was one text: what it became, and why.
  `UPDATE \`record_change\` SET \`reason\` = LEFT(SUBSTRING(\`to\`, LOCATE(': ', \`to\`) + 2), 500),
    \`to\` = SUBSTRING_INDEX(\`to\`, ': ', 1) WHERE \`field\` = 'status' AND LOCATE(': ', \`to\`) > 0`,
  `UPDATE \`record_change\` SET \`from\` = ${place('`from`')}, \`to\` = ${place('`to`')} WHERE \`field\` = 'place'`,
  `UPDATE \`record_change\` SET \`from\` = JSON_QUOTE(\`from\`), \`to\` = JSON_QUOTE(\`to\`)
    WHERE \`field\` IN ('stage', 'grade', 'territory', 'status')`,
  `UPDATE \`record_change\` SET \`from\` = ${value('`from`')}, \`to\` = ${value('`to`')} WHERE \`field\` NOT IN (${COMPUTED})`,
  `ALTER TABLE \`record_change\` ALTER \`cause\` DROP DEFAULT, ADD INDEX \`record_change_by_rule\` (\`field\`, \`rule\`)`,

  'ALTER TABLE `answered_request` MODIFY `sender` varchar(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL',
  'ALTER TABLE `decision` ADD `format` tinyint UNSIGNED NOT NULL DEFAULT 1',
  'ALTER TABLE `decision` ALTER `format` DROP DEFAULT',
  `ALTER TABLE \`lead\` ADD \`test\` tinyint NOT NULL DEFAULT 0,
    DROP INDEX \`lead_by_route\`, ADD INDEX \`lead_by_route\` (\`route\`, \`place\`, \`status\`, \`since\`, \`id\`)`,
  'ALTER TABLE `lead` ALTER `test` DROP DEFAULT',
  'ALTER TABLE `notice` ADD `outbox` int UNSIGNED NULL, ADD UNIQUE INDEX `notice_once` (`outbox`)',
  `CREATE TABLE \`outbox\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`kind\` varchar(8) NOT NULL,
    \`body\` longtext NOT NULL,
    \`record\` int UNSIGNED NULL,
    \`state\` varchar(8) NOT NULL,
    \`tries\` int UNSIGNED NOT NULL,
    \`next_at\` datetime(3) NOT NULL,
    \`error\` varchar(500) NULL,
    \`at\` datetime(3) NOT NULL,
    \`ended_at\` datetime(3) NULL,
    INDEX \`outbox_by_due\` (\`state\`, \`next_at\`, \`id\`),
    INDEX \`outbox_by_record\` (\`record\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`failure\` (
    \`work\` ${key} NOT NULL,
    \`record\` int UNSIGNED NOT NULL,
    \`tries\` int UNSIGNED NOT NULL,
    \`error\` varchar(500) NOT NULL,
    \`since\` datetime(3) NOT NULL,
    \`next_at\` datetime(3) NOT NULL,
    \`parked\` tinyint NOT NULL,
    INDEX \`failure_by_due\` (\`work\`, \`parked\`, \`next_at\`),
    PRIMARY KEY (\`work\`, \`record\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`doctor_report\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`at\` datetime(3) NOT NULL,
    \`findings\` longtext NOT NULL,
    INDEX \`doctor_report_by_age\` (\`at\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`import_file\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`hash\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`kept\` char(64) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`name\` varchar(200) NOT NULL,
    \`state\` varchar(8) NOT NULL,
    \`rows\` int UNSIGNED NOT NULL,
    \`person\` ${key} NOT NULL,
    \`by\` varchar(120) NOT NULL,
    \`at\` datetime(3) NOT NULL,
    \`ended_at\` datetime(3) NULL,
    UNIQUE INDEX \`import_file_once\` (\`kept\`),
    INDEX \`import_file_by_state\` (\`state\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`import_row\` (
    \`file\` int UNSIGNED NOT NULL,
    \`row\` int UNSIGNED NOT NULL,
    \`state\` varchar(8) NOT NULL,
    \`values\` longtext NOT NULL,
    \`owner\` ${key} NULL,
    \`lead\` int UNSIGNED NULL,
    \`taken_at\` datetime(3) NULL,
    \`notes\` longtext NOT NULL,
    \`replaced\` longtext NULL,
    INDEX \`import_row_by_state\` (\`file\`, \`state\`, \`row\`),
    INDEX \`import_row_by_lead\` (\`lead\`),
    PRIMARY KEY (\`file\`, \`row\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`joined_lead\` (
    \`id\` int UNSIGNED NOT NULL,
    \`older\` int UNSIGNED NOT NULL,
    \`at\` datetime(3) NOT NULL,
    \`person\` ${key} NOT NULL,
    \`undo\` longtext NOT NULL,
    INDEX \`joined_lead_by_older\` (\`older\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  'ALTER TABLE `job` ADD `failed` int UNSIGNED NOT NULL DEFAULT 0, ADD `error` varchar(500) NULL',
  'ALTER TABLE `job` ALTER `failed` DROP DEFAULT',
];

const DOWN = [
  'DELETE FROM `answered_request` WHERE LENGTH(`sender`) > 20',
  'ALTER TABLE `answered_request` MODIFY `sender` varchar(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL',
  'ALTER TABLE `job` DROP COLUMN `failed`, DROP COLUMN `error`',
  'DROP TABLE `joined_lead`',
  'DROP TABLE `import_row`',
  'DROP TABLE `import_file`',
  'DROP TABLE `doctor_report`',
  'DROP TABLE `failure`',
  'DROP TABLE `outbox`',
  'ALTER TABLE `notice` DROP INDEX `notice_once`, DROP COLUMN `outbox`',
  'ALTER TABLE `lead` DROP INDEX `lead_by_route`, ADD INDEX `lead_by_route` (`route`), DROP COLUMN `test`',
  'ALTER TABLE `decision` DROP COLUMN `format`',
  `UPDATE \`record_change\` SET
    \`by\` = CASE \`cause\`
      WHEN 'rule' THEN CONCAT('charter ', COALESCE(\`charter\`, 0), IF(\`rule\` IS NULL OR \`field\` = 'place', '', CONCAT(', gate ', \`rule\`)))
      WHEN 'charter' THEN CONCAT('charter ', COALESCE(\`charter\`, 0))
      WHEN 'form' THEN CONCAT('form ', \`by\`)
      WHEN 'api' THEN CONCAT('key ', \`by\`)
      WHEN 'csv' THEN CONCAT('file, by ', \`by\`)
      WHEN 'relvik' THEN 'Relvik'
      ELSE \`by\` END,
    \`from\` = CASE
      WHEN \`from\` IS NULL THEN NULL
      WHEN \`field\` = 'place' THEN CONCAT_WS(':', JSON_VALUE(\`from\`, '$.kind'), COALESCE(JSON_VALUE(\`from\`, '$.rep'), JSON_VALUE(\`from\`, '$.queue'), JSON_VALUE(\`from\`, '$.reason.why')))
      WHEN \`field\` IN ('stage', 'grade', 'territory', 'status') THEN JSON_UNQUOTE(\`from\`)
      ELSE COALESCE(JSON_VALUE(\`from\`, '$.text'), JSON_VALUE(\`from\`, '$.raw'), JSON_VALUE(\`from\`, '$.day'), \`from\`) END,
    \`to\` = CASE
      WHEN \`to\` IS NULL THEN NULL
      WHEN \`field\` = 'place' THEN CONCAT_WS(':', JSON_VALUE(\`to\`, '$.kind'), COALESCE(JSON_VALUE(\`to\`, '$.rep'), JSON_VALUE(\`to\`, '$.queue'), JSON_VALUE(\`to\`, '$.reason.why')))
      WHEN \`field\` = 'status' AND \`reason\` IS NOT NULL THEN CONCAT(JSON_UNQUOTE(\`to\`), ': ', \`reason\`)
      WHEN \`field\` IN ('stage', 'grade', 'territory', 'status') THEN JSON_UNQUOTE(\`to\`)
      ELSE COALESCE(JSON_VALUE(\`to\`, '$.text'), JSON_VALUE(\`to\`, '$.raw'), JSON_VALUE(\`to\`, '$.day'), \`to\`) END`,
  `ALTER TABLE \`record_change\`
    DROP INDEX \`record_change_by_rule\`,
    DROP COLUMN \`reason\`, DROP COLUMN \`cause\`, DROP COLUMN \`person\`, DROP COLUMN \`charter\`, DROP COLUMN \`rule\`,
    MODIFY \`from\` text NULL, MODIFY \`to\` text NULL`,
];
