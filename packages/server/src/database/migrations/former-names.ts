import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENT = `CREATE TABLE IF NOT EXISTS listing_names (
  former varchar(64) NOT NULL,
  name varchar(64) NOT NULL,
  until bigint NOT NULL,
  PRIMARY KEY (former)
) ENGINE = InnoDB`;

/** The names that listings had before. */
export class FormerNames1765300000000 implements MigrationInterface {
  readonly name = "FormerNames1765300000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
