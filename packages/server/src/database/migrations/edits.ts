import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll tables and columns back. */
const STATEMENTS = [
  `CREATE TABLE IF NOT EXISTS edits (
  id int unsigned NOT NULL AUTO_INCREMENT,
  sourceId int unsigned NOT NULL,
  ids varchar(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  listing varchar(64) NULL,
  action varchar(64) NULL,
  at bigint NOT NULL,
  caller varchar(32) NOT NULL,
  \`by\` varchar(64) NOT NULL,
  records int unsigned NOT NULL,
  undoes int unsigned NULL,
  undoneBy int unsigned NULL,
  PRIMARY KEY (id),
  KEY edits_source (sourceId, id),
  CONSTRAINT edits_of_source FOREIGN KEY (sourceId) REFERENCES sources (id) ON DELETE CASCADE ON UPDATE NO ACTION
) ENGINE = InnoDB`,
  `CREATE TABLE IF NOT EXISTS edited_cells (
  id bigint unsigned NOT NULL AUTO_INCREMENT,
  editId int unsigned NOT NULL,
  columnName varchar(128) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  recordId varchar(255) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  \`before\` mediumtext CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
  \`after\` mediumtext CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL,
  PRIMARY KEY (id),
  KEY edited_cells_edit (editId),
  KEY edited_cells_record (recordId, columnName),
  CONSTRAINT cells_of_edit FOREIGN KEY (editId) REFERENCES edits (id) ON DELETE CASCADE ON UPDATE NO ACTION
) ENGINE = InnoDB`,
  "ALTER TABLE sources ADD COLUMN IF NOT EXISTS onImport varchar(16) NOT NULL DEFAULT 'report'",
];

/** The edits of records, and what imports do with them. */
export class Edits1765500000000 implements MigrationInterface {
  readonly name = "Edits1765500000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
