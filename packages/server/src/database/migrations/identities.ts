import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll columns and indexes back. */
const STATEMENTS = [
  "ALTER TABLE people ADD COLUMN IF NOT EXISTS claims json NOT NULL DEFAULT '{}'",
  // The default was for the people that there are already.
  "ALTER TABLE people ALTER COLUMN claims DROP DEFAULT",
  "ALTER TABLE people ADD COLUMN IF NOT EXISTS subject varchar(500) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NULL",
  "CREATE UNIQUE INDEX IF NOT EXISTS people_subject ON people (subject)",
];

/** What is known of people, and by which issuer. */
export class Identities1766000000000 implements MigrationInterface {
  readonly name = "Identities1766000000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
