import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll a table back. */
const STATEMENT = `CREATE TABLE IF NOT EXISTS feeds (
  id int unsigned NOT NULL AUTO_INCREMENT,
  hash char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  name varchar(64) NOT NULL,
  listing varchar(64) NOT NULL,
  parameters json NOT NULL,
  caller varchar(32) NOT NULL,
  createdAt bigint NOT NULL,
  deliveredAt bigint NULL,
  deliveredTo varchar(200) NULL,
  deliveredAddress varchar(64) NULL,
  deliveredRecords int unsigned NULL,
  PRIMARY KEY (id),
  UNIQUE KEY feeds_hash (hash),
  KEY feeds_listing (listing)
) ENGINE = InnoDB`;

/** The private addresses of listings. */
export class Feeds1765400000000 implements MigrationInterface {
  readonly name = "Feeds1765400000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
