import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  `ALTER TABLE access_keys
    ADD COLUMN IF NOT EXISTS expiresAt bigint NULL,
    ADD COLUMN IF NOT EXISTS lastUsedAt bigint NULL`,
  "ALTER TABLE sessions ADD COLUMN IF NOT EXISTS `key` int unsigned NULL",
];

/** Keys that lapse, when they were last used, and sessions that are begun with them. */
export class Keys1764600000000 implements MigrationInterface {
  readonly name = "Keys1764600000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
