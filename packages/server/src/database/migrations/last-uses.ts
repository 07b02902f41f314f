import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll columns back. */
const STATEMENT = "ALTER TABLE listings ADD COLUMN IF NOT EXISTS lastUsedAt bigint NULL";

/** When the records of each listing were last read. */
export class LastUses1766600000000 implements MigrationInterface {
  readonly name = "LastUses1766600000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
