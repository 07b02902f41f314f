import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll columns back. */
const STATEMENT = "ALTER TABLE edits ADD COLUMN IF NOT EXISTS isPending tinyint NOT NULL DEFAULT 0";

/** Edits of attached tables, of which it is not known yet whether they took effect there. */
export class PendingEdits1766100000000 implements MigrationInterface {
  readonly name = "PendingEdits1766100000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
