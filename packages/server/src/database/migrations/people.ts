import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll tables and columns back. */
const STATEMENTS = [
  `CREATE TABLE IF NOT EXISTS people (
  id int unsigned NOT NULL AUTO_INCREMENT,
  name varchar(64) NOT NULL,
  role varchar(16) NOT NULL,
  \`groups\` json NOT NULL,
  listings json NULL,
  password varchar(200) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  createdAt bigint NOT NULL,
  lastSignInAt bigint NULL,
  PRIMARY KEY (id),
  UNIQUE KEY people_name (name)
) ENGINE = InnoDB`,
  "ALTER TABLE sessions ADD COLUMN IF NOT EXISTS person int unsigned NULL",
];

/** People who sign in with a name and a password. */
export class People1765700000000 implements MigrationInterface {
  readonly name = "People1765700000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
