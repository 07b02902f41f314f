import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll columns back. */
const STATEMENT = "ALTER TABLE source_columns ADD COLUMN IF NOT EXISTS written json NULL";

/** How the numbers of columns are written. */
export class WrittenNumbers1766200000000 implements MigrationInterface {
  readonly name = "WrittenNumbers1766200000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
