import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll tables and columns back. */
const STATEMENTS = [
  "ALTER TABLE sources ADD COLUMN IF NOT EXISTS changesMark varchar(36) CHARACTER SET ascii COLLATE ascii_bin NULL",
  `CREATE TABLE IF NOT EXISTS changed_records (
    sourceId int unsigned NOT NULL,
    recordId varchar(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
    number int unsigned NOT NULL,
    PRIMARY KEY (sourceId, recordId),
    KEY changed (sourceId, number, recordId),
    FOREIGN KEY (sourceId) REFERENCES sources (id) ON DELETE CASCADE
  ) ENGINE = InnoDB`,
];

/** The records that were added or changed, by the number of their last change. */
export class ChangedRecords1765900000000 implements MigrationInterface {
  readonly name = "ChangedRecords1765900000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
