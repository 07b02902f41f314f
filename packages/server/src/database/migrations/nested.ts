import type { MigrationInterface, QueryRunner } from "typeorm";

/** Sources that are the values inside a column of another. */
export class Nested1764400000000 implements MigrationInterface {
  readonly name = "Nested1764400000000";

  async up(runner: QueryRunner): Promise<void> {
    // `IF NOT EXISTS`: the database does not roll a table back.
    await runner.query("ALTER TABLE sources ADD COLUMN IF NOT EXISTS inside json NULL");
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
