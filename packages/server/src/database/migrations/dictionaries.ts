import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  `CREATE TABLE IF NOT EXISTS dictionaries (
    recordsTable varchar(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    \`column\` varchar(128) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin NOT NULL,
    \`values\` json NOT NULL,
    PRIMARY KEY (recordsTable, \`column\`)
  ) ENGINE = InnoDB`,
  "ALTER TABLE sources ADD COLUMN IF NOT EXISTS indexes json NULL",
];

/** The dictionaries of text columns, and the indexes that were requested for sources. */
export class Dictionaries1765200000000 implements MigrationInterface {
  readonly name = "Dictionaries1765200000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
