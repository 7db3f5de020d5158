import { randomBytes } from 'node:crypto';
import type { MigrationInterface, QueryRunner } from 'typeorm';

/**
 * Tokens of forms are signed, in place of being kept; which key sent a lead is kept; whether a field is personal is said on it.
 */
export class SightOfKeys1765500000000 implements MigrationInterface {
  name = 'SightOfKeys1765500000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query('DROP TABLE `form_token`');
    await runner.query(`CREATE TABLE \`form_secret\` (
      \`id\` tinyint UNSIGNED NOT NULL,
      \`secret\` varchar(60) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      PRIMARY KEY (\`id\`)
    ) ENGINE=InnoDB`);
    await runner.query('INSERT INTO `form_secret` VALUES (1, ?)', [randomBytes(32).toString('base64url')]);
    await runner.query(`CREATE TABLE \`sent_lead\` (
      \`key\` int UNSIGNED NOT NULL,
      \`record\` int UNSIGNED NOT NULL,
      PRIMARY KEY (\`key\`, \`record\`)
    ) ENGINE=InnoDB`);
    await runner.query('ALTER TABLE `field` ADD COLUMN `personal` tinyint NOT NULL DEFAULT 0');
    await runner.query("UPDATE `field` SET `personal` = 1 WHERE `type` = 'email' OR `key` IN ('name', 'phone')");
    await runner.query('ALTER TABLE `field` ALTER COLUMN `personal` DROP DEFAULT');
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query('ALTER TABLE `field` DROP COLUMN `personal`');
    await runner.query('DROP TABLE `sent_lead`');
    await runner.query('DROP TABLE `form_secret`');
    await runner.query(`CREATE TABLE \`form_token\` (
      \`hash\` char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`form\` varchar(48) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
      \`made_at\` datetime(3) NOT NULL,
      PRIMARY KEY (\`hash\`),
      INDEX \`form_token_by_age\` (\`made_at\`)
    ) ENGINE=InnoDB`);
  }
}
