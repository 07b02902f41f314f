import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENT = `CREATE TABLE IF NOT EXISTS overrides (
  listing varchar(64) NOT NULL,
  parameter varchar(128) CHARACTER SET utf8mb4 COLLATE utf8mb4_nopad_bin NOT NULL,
  value json NOT NULL,
  reason varchar(200) NOT NULL,
  \`by\` varchar(64) NOT NULL,
  at bigint NOT NULL,
  until bigint NULL,
  PRIMARY KEY (listing, parameter)
) ENGINE = InnoDB`;

/** The defaults of listings that are set from outside their declarations. */
export class Overrides1765600000000 implements MigrationInterface {
  readonly name = "Overrides1765600000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
