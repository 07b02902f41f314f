import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  "ALTER TABLE sources ADD COLUMN IF NOT EXISTS idsSince int unsigned NOT NULL DEFAULT 0",
  "ALTER TABLE source_columns ADD COLUMN IF NOT EXISTS isStated tinyint NOT NULL DEFAULT 0",
];

/**
 * Since which load the numbers of records that have no key of their own have been counted, and which
 * columns have the type that their file states.
 */
export class Ids1764700000000 implements MigrationInterface {
  readonly name = "Ids1764700000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
