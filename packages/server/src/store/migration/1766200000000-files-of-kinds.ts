import type { MigrationInterface, QueryRunner } from 'typeorm';

/** Files are of records of any kind; a row names what its record is tied to. */
export class FilesOfKinds1766200000000 implements MigrationInterface {
  name = 'FilesOfKinds1766200000000';

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(
      "ALTER TABLE `import_file` ADD COLUMN `kind` varchar(7) CHARACTER SET ascii COLLATE ascii_bin NOT NULL DEFAULT 'lead' AFTER `kept`",
    );
    await runner.query('ALTER TABLE `import_file` ALTER COLUMN `kind` DROP DEFAULT');
    await runner.query(
      'ALTER TABLE `import_row` RENAME COLUMN `lead` TO `record`, RENAME INDEX `import_row_by_lead` TO `import_row_by_record`, ADD COLUMN `ties` longtext NULL AFTER `values`',
    );
  }

  async down(runner: QueryRunner): Promise<void> {
    await runner.query(
      "DELETE FROM `import_row` WHERE `file` IN (SELECT `id` FROM `import_file` WHERE `kind` <> 'lead')",
    );
    await runner.query("DELETE FROM `import_file` WHERE `kind` <> 'lead'");
    await runner.query(
      'ALTER TABLE `import_row` DROP COLUMN `ties`, RENAME INDEX `import_row_by_record` TO `import_row_by_lead`, RENAME COLUMN `record` TO `lead`',
    );
    await runner.query('ALTER TABLE `import_file` DROP COLUMN `kind`');
  }
}
