import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS` and `IGNORE`: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  `CREATE TABLE IF NOT EXISTS listing_versions (
    name varchar(64) NOT NULL,
    version int unsigned NOT NULL,
    declaration json NOT NULL,
    at bigint NOT NULL,
    \`by\` varchar(64) NOT NULL,
    PRIMARY KEY (name, version)
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS late_choices (
    caller varchar(32) NOT NULL,
    listing varchar(64) NOT NULL,
    \`column\` varchar(128) NOT NULL,
    \`values\` json NOT NULL,
    PRIMARY KEY (caller, listing, \`column\`)
  ) ENGINE=InnoDB`,
  // Of the versions before this one only the last was kept, without who made it and when.
  "INSERT IGNORE INTO listing_versions SELECT name, version, declaration, 0, '' FROM listings",
];

/** The versions of listings, and what callers chose lately. */
export class Versions1764500000000 implements MigrationInterface {
  readonly name = "Versions1764500000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
