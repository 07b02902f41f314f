import type { MigrationInterface, QueryRunner } from "typeorm";

/** Since which load the numbers of records that have no key of their own have been counted. */
export class Ids1764700000000 implements MigrationInterface {
  readonly name = "Ids1764700000000";

  async up(runner: QueryRunner): Promise<void> {
    // `IF NOT EXISTS`: the database does not roll a table back.
    await runner.query(
      "ALTER TABLE sources ADD COLUMN IF NOT EXISTS idsSince int unsigned NOT NULL DEFAULT 0",
    );
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
