import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS` here too: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  `CREATE TABLE IF NOT EXISTS attached_databases (
    name varchar(64) NOT NULL,
    host varchar(255) NOT NULL,
    port int unsigned NOT NULL,
    \`database\` varchar(64) NOT NULL,
    \`user\` varchar(128) NOT NULL,
    password text NOT NULL,
    allowsWriter tinyint NOT NULL DEFAULT 0,
    attachedAt bigint NOT NULL,
    PRIMARY KEY (name)
  ) ENGINE=InnoDB`,
  "ALTER TABLE sources ADD COLUMN IF NOT EXISTS attached json NULL",
  "ALTER TABLE sources ADD COLUMN IF NOT EXISTS stacked json NULL",
  "ALTER TABLE source_columns ADD COLUMN IF NOT EXISTS holding json NULL",
];

/** Databases of others, and sources that are tables there. */
export class Attached1764300000000 implements MigrationInterface {
  readonly name = "Attached1764300000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
