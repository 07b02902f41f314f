import type { MigrationInterface, QueryRunner } from "typeorm";

/** Constraints are named as the entities name them. `IF EXISTS`: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  "ALTER TABLE holiday_lists CHANGE COLUMN IF EXISTS takenAt importedAt bigint NOT NULL",
  "RENAME TABLE IF EXISTS loads TO imports",
  "ALTER TABLE imports DROP FOREIGN KEY IF EXISTS FK_ec2759592c67a0fec908064b41f",
  "ALTER TABLE refused_rows DROP FOREIGN KEY IF EXISTS FK_9fbaef8bada95c8fa408355c281",
  "ALTER TABLE refused_rows CHANGE COLUMN IF EXISTS loadId fileImportId int UNSIGNED NOT NULL",
  `ALTER TABLE sources
    CHANGE COLUMN IF EXISTS loads imports int UNSIGNED NOT NULL DEFAULT '0',
    CHANGE COLUMN IF EXISTS loadedAt importedAt bigint NULL,
    CHANGE COLUMN IF EXISTS \`load\` importNumber int UNSIGNED NULL,
    CHANGE COLUMN IF EXISTS stacked combine json NULL,
    CHANGE COLUMN IF EXISTS inside unnest json NULL`,
  `UPDATE sources SET \`before\` = JSON_REMOVE(JSON_INSERT(\`before\`,
      '$.importedAt', JSON_EXTRACT(\`before\`, '$.loadedAt'),
      '$.importNumber', JSON_EXTRACT(\`before\`, '$.load')), '$.loadedAt', '$.load')
    WHERE JSON_EXISTS(\`before\`, '$.loadedAt')`,
  `UPDATE imports SET report = JSON_REMOVE(JSON_INSERT(report,
      '$.importNumber', JSON_EXTRACT(report, '$.load')), '$.load')
    WHERE JSON_EXISTS(report, '$.load')`,
  `ALTER TABLE refused_rows
    ADD CONSTRAINT FK_bba152622d786aa4cdfdd1cd628 FOREIGN KEY IF NOT EXISTS (fileImportId)
    REFERENCES imports(id) ON DELETE CASCADE ON UPDATE NO ACTION`,
  `ALTER TABLE imports
    ADD CONSTRAINT FK_04d667afa59721910cbc4409807 FOREIGN KEY IF NOT EXISTS (sourceId)
    REFERENCES sources(id) ON DELETE CASCADE ON UPDATE NO ACTION`,
];

/** Loads are called imports; sources that are stacked combine others, those inside unnest. */
export class Imports1765000000000 implements MigrationInterface {
  readonly name = "Imports1765000000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
