import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENT = `CREATE TABLE IF NOT EXISTS audit_entries (
  id bigint unsigned NOT NULL AUTO_INCREMENT,
  at bigint NOT NULL,
  caller varchar(32) NULL,
  name varchar(64) NULL,
  address varchar(64) NULL,
  action varchar(96) NOT NULL,
  target varchar(255) NULL,
  status smallint unsigned NOT NULL,
  details json NULL,
  PRIMARY KEY (id),
  KEY audit_at (at)
) ENGINE = InnoDB`;

/** Who read, exported and changed what. */
export class Audit1765100000000 implements MigrationInterface {
  readonly name = "Audit1765100000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
