import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENT = `CREATE TABLE IF NOT EXISTS views (
  id int unsigned NOT NULL AUTO_INCREMENT,
  caller varchar(32) NOT NULL,
  listing varchar(64) NOT NULL,
  name varchar(64) COLLATE utf8mb4_bin NOT NULL,
  parameters json NOT NULL,
  isDefault tinyint NOT NULL DEFAULT 0,
  savedAt bigint NOT NULL,
  PRIMARY KEY (id),
  UNIQUE KEY views_name (caller, listing, name)
) ENGINE = InnoDB`;

/** How people look at listings, kept under names. */
export class Views1766400000000 implements MigrationInterface {
  readonly name = "Views1766400000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
