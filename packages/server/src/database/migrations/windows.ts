import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS` here too: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  `CREATE TABLE IF NOT EXISTS holiday_lists (
    name varchar(64) NOT NULL,
    days json NOT NULL,
    takenAt bigint NOT NULL,
    PRIMARY KEY (name)
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS named_windows (
    name varchar(64) NOT NULL,
    label varchar(128) NOT NULL,
    \`window\` text NOT NULL,
    PRIMARY KEY (name)
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS ladders (
    name varchar(64) NOT NULL,
    label varchar(128) NOT NULL,
    zone varchar(64) NOT NULL,
    calendar json NOT NULL,
    rungs json NOT NULL,
    PRIMARY KEY (name)
  ) ENGINE=InnoDB`,
];

/** Lists of days off, named windows, ladders. */
export class Windows1764200000000 implements MigrationInterface {
  readonly name = "Windows1764200000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
