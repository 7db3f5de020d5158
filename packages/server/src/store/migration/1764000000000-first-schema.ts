import type { MigrationInterface, QueryRunner } from 'typeorm';

/** The first schema: records and leads with their history, charters, people, ways in. */
export class FirstSchema1764000000000 implements MigrationInterface {
  name = 'FirstSchema1764000000000';

  async up(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(table);
  }

  async down(runner: QueryRunner): Promise<void> {
    for (const table of TABLES) await runner.query(`DROP TABLE ${/`\w+`/.exec(table)?.[0] ?? ''}`);
  }
}

const TABLES = [
  `CREATE TABLE \`charter\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`in_force\` tinyint NULL,
    \`number\` int UNSIGNED NULL,
    \`base\` int UNSIGNED NOT NULL,
    \`name\` varchar(120) NOT NULL,
    \`body\` longtext NOT NULL,
    \`version\` int UNSIGNED NOT NULL,
    \`author\` varchar(120) NOT NULL,
    \`changed_at\` datetime(3) NOT NULL,
    \`enacted_at\` datetime(3) NULL,
    \`reason\` varchar(500) NULL,
    UNIQUE INDEX \`charter_by_number\` (\`number\`),
    UNIQUE INDEX \`charter_one_in_force\` (\`in_force\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`job\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`state\` varchar(12) NOT NULL,
    \`charter\` int UNSIGNED NOT NULL,
    \`total\` int UNSIGNED NOT NULL,
    \`done\` int UNSIGNED NOT NULL,
    \`changed\` int UNSIGNED NOT NULL,
    \`cursor\` int UNSIGNED NOT NULL,
    \`started_by\` varchar(120) NOT NULL,
    \`started_at\` datetime(3) NOT NULL,
    \`ended_at\` datetime(3) NULL,
    INDEX \`job_by_state\` (\`state\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`intake_key\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`name\` varchar(80) NOT NULL,
    \`hash\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`begins\` varchar(12) NOT NULL,
    \`fields\` longtext NOT NULL,
    \`created_at\` datetime(3) NOT NULL,
    \`last_used_at\` datetime(3) NULL,
    \`revoked\` tinyint NOT NULL,
    UNIQUE INDEX \`intake_key_by_hash\` (\`hash\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`answered_request\` (
    \`sender\` varchar(20) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`request\` varchar(120) COLLATE utf8mb4_nopad_bin NOT NULL,
    \`body\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`answer\` longtext NOT NULL,
    \`at\` datetime(3) NOT NULL,
    INDEX \`answered_request_by_age\` (\`at\`),
    PRIMARY KEY (\`sender\`, \`request\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`form\` (
    \`slug\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`title\` varchar(120) NOT NULL,
    \`intro\` varchar(500) NOT NULL,
    \`thanks\` varchar(500) NOT NULL,
    \`fields\` longtext NOT NULL,
    \`sets\` longtext NOT NULL,
    \`received\` int UNSIGNED NOT NULL,
    PRIMARY KEY (\`slug\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`form_token\` (
    \`hash\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`form\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`made_at\` datetime(3) NOT NULL,
    INDEX \`form_token_by_age\` (\`made_at\`),
    PRIMARY KEY (\`hash\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`person\` (
    \`key\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`name\` varchar(120) NOT NULL,
    \`email\` varchar(320) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
    \`role\` varchar(8) NOT NULL,
    \`password\` varchar(200) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`may_take_leads\` tinyint NOT NULL,
    \`why_not\` varchar(200) NULL,
    \`takes\` int UNSIGNED NULL,
    \`retired\` tinyint NOT NULL,
    UNIQUE INDEX \`person_by_email\` (\`email\`),
    PRIMARY KEY (\`key\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`team\` (
    \`key\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`name\` varchar(120) NOT NULL,
    \`parent\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    PRIMARY KEY (\`key\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`team_member\` (
    \`team\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`person\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`joined\` int UNSIGNED NOT NULL,
    \`leads\` tinyint NOT NULL,
    PRIMARY KEY (\`team\`, \`person\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`queue\` (
    \`key\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`name\` varchar(120) NOT NULL,
    PRIMARY KEY (\`key\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`queue_member\` (
    \`queue\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`person\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    PRIMARY KEY (\`queue\`, \`person\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`rep_load\` (
    \`rep\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`open\` int NOT NULL,
    PRIMARY KEY (\`rep\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`rota\` (
    \`route\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`last_served\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`order\` longtext NULL,
    PRIMARY KEY (\`route\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`session\` (
    \`hash\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`person\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`csrf\` char(43) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`expires\` datetime(3) NOT NULL,
    INDEX \`session_by_expiry\` (\`expires\`),
    PRIMARY KEY (\`hash\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`field\` (
    \`key\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`name\` varchar(120) NOT NULL,
    \`type\` varchar(10) NOT NULL,
    \`options\` longtext NOT NULL,
    \`retired\` tinyint NOT NULL,
    \`position\` int UNSIGNED NOT NULL,
    PRIMARY KEY (\`key\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`rate\` (
    \`currency\` char(3) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`from_day\` char(10) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`micro\` bigint NOT NULL,
    PRIMARY KEY (\`currency\`, \`from_day\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`field_value\` (
    \`record\` int UNSIGNED NOT NULL,
    \`field\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`kind\` varchar(12) NOT NULL,
    \`shown\` text NOT NULL,
    \`folded\` varchar(190) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
    \`number\` bigint NULL,
    \`currency\` char(3) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`day\` char(10) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`why\` varchar(120) NULL,
    INDEX \`field_value_by_kind\` (\`field\`, \`kind\`),
    INDEX \`field_value_by_number\` (\`field\`, \`number\`),
    INDEX \`field_value_by_text\` (\`field\`, \`folded\`),
    PRIMARY KEY (\`record\`, \`field\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`activity\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`record\` int UNSIGNED NOT NULL,
    \`kind\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`at\` datetime(3) NOT NULL,
    INDEX \`activity_by_record\` (\`record\`, \`at\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`record_change\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`record\` int UNSIGNED NOT NULL,
    \`field\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`from\` text NULL,
    \`to\` text NULL,
    \`at\` datetime(3) NOT NULL,
    \`by\` varchar(120) NOT NULL,
    INDEX \`record_change_by_record\` (\`record\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`decision\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`record\` int UNSIGNED NOT NULL,
    \`charter\` int UNSIGNED NOT NULL,
    \`as_of\` datetime(3) NOT NULL,
    \`occasion\` varchar(12) NOT NULL,
    \`grade\` varchar(90) NULL,
    \`stage\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`body\` longtext NOT NULL,
    INDEX \`decision_by_record\` (\`record\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`notice\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`person\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`queue\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`kind\` varchar(20) NOT NULL,
    \`record\` int UNSIGNED NOT NULL,
    \`at\` datetime(3) NOT NULL,
    INDEX \`notice_by_person\` (\`person\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`record\` (
    \`id\` int UNSIGNED NOT NULL AUTO_INCREMENT,
    \`kind\` varchar(12) NOT NULL,
    \`created_at\` datetime(3) NOT NULL,
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
  `CREATE TABLE \`lead\` (
    \`id\` int UNSIGNED NOT NULL,
    \`version\` int UNSIGNED NOT NULL,
    \`name\` varchar(200) NOT NULL,
    \`company\` varchar(200) NOT NULL,
    \`email\` varchar(320) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
    \`open_email\` varchar(320) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
    \`status\` varchar(14) NOT NULL,
    \`stage\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`place\` varchar(16) NOT NULL,
    \`since\` datetime(3) NOT NULL,
    \`owner\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`queue\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`bay\` longtext NULL,
    \`bay_team\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`verdict\` varchar(16) NULL,
    \`fit\` double NULL,
    \`engagement\` double NULL,
    \`rank_order\` double NOT NULL,
    \`fit_band\` tinyint UNSIGNED NULL,
    \`engagement_band\` tinyint UNSIGNED NULL,
    \`grade\` varchar(90) NULL,
    \`territory\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`pin\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`route\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NULL,
    \`looks\` longtext NOT NULL,
    \`arrived\` datetime(3) NOT NULL,
    \`way\` varchar(8) NOT NULL,
    \`charter\` int UNSIGNED NOT NULL,
    \`decided_at\` datetime(3) NOT NULL,
    \`closed_at\` datetime(3) NULL,
    \`close_reason\` varchar(500) NULL,
    UNIQUE INDEX \`lead_one_open_per_email\` (\`open_email\`),
    FULLTEXT INDEX \`lead_by_words\` (\`name\`, \`company\`),
    INDEX \`lead_by_email\` (\`email\`),
    INDEX \`lead_by_route\` (\`route\`),
    INDEX \`lead_by_place\` (\`place\`, \`status\`, \`since\`, \`id\`),
    INDEX \`lead_by_arrival\` (\`status\`, \`arrived\`, \`id\`),
    INDEX \`lead_by_grade\` (\`grade\`, \`status\`, \`rank_order\`, \`id\`),
    INDEX \`lead_by_territory\` (\`territory\`, \`status\`, \`rank_order\`, \`id\`),
    INDEX \`lead_by_stage\` (\`stage\`, \`status\`, \`rank_order\`, \`id\`),
    INDEX \`lead_by_queue\` (\`queue\`, \`status\`, \`rank_order\`, \`id\`),
    INDEX \`lead_by_owner\` (\`owner\`, \`status\`, \`rank_order\`, \`id\`),
    INDEX \`lead_by_rank\` (\`status\`, \`rank_order\`, \`id\`),
    PRIMARY KEY (\`id\`)
  ) ENGINE=InnoDB`,
];
