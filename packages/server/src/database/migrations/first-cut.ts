import type { MigrationInterface, QueryRunner } from "typeorm";

/**
 * Names of indexes and constraints are those that the entities give them. `IF NOT EXISTS`,
 * because the database does not roll a table back: a crash between two of them must not bar
 * the next start.
 */
const STATEMENTS = [
  `CREATE TABLE IF NOT EXISTS access_keys (
    id int UNSIGNED NOT NULL AUTO_INCREMENT,
    name varchar(64) NOT NULL,
    role varchar(16) NOT NULL,
    hash char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    listings json NULL,
    createdAt bigint NOT NULL,
    UNIQUE INDEX IDX_a8c35c92eadedac9b713709291 (hash),
    PRIMARY KEY (id)
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS sessions (
    hash char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    createdAt bigint NOT NULL,
    expiresAt bigint NOT NULL,
    PRIMARY KEY (hash)
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS sources (
    id int UNSIGNED NOT NULL AUTO_INCREMENT,
    name varchar(64) NOT NULL,
    keyColumn varchar(128) NULL,
    recordsTable varchar(64) NULL,
    loads int UNSIGNED NOT NULL DEFAULT '0',
    records bigint NOT NULL DEFAULT '0',
    loadedAt bigint NULL,
    UNIQUE INDEX IDX_ee4027d72bd2c0c01c4d1fc110 (name),
    PRIMARY KEY (id)
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS source_columns (
    id int UNSIGNED NOT NULL AUTO_INCREMENT,
    position int UNSIGNED NOT NULL,
    name varchar(128) NOT NULL,
    type varchar(16) NOT NULL,
    sourceId int UNSIGNED NOT NULL,
    PRIMARY KEY (id),
    CONSTRAINT FK_1dbd9cb698af4113c4b3c26b251 FOREIGN KEY (sourceId) REFERENCES sources(id) ON DELETE CASCADE ON UPDATE NO ACTION
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS readings (
    id int UNSIGNED NOT NULL AUTO_INCREMENT,
    kind varchar(16) NOT NULL,
    encoding varchar(16) NOT NULL,
    details json NOT NULL,
    columnId int UNSIGNED NOT NULL,
    UNIQUE INDEX REL_9396463c39f8370e2208600af0 (columnId),
    PRIMARY KEY (id),
    CONSTRAINT FK_9396463c39f8370e2208600af0b FOREIGN KEY (columnId) REFERENCES source_columns(id) ON DELETE CASCADE ON UPDATE NO ACTION
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS listings (
    id int UNSIGNED NOT NULL AUTO_INCREMENT,
    name varchar(64) NOT NULL,
    version int UNSIGNED NOT NULL,
    declaration json NOT NULL,
    sourceId int UNSIGNED NOT NULL,
    UNIQUE INDEX IDX_149b0666512cdd0ce0a11ed943 (name),
    PRIMARY KEY (id),
    CONSTRAINT FK_e10733ef6feebaf64420d8daacd FOREIGN KEY (sourceId) REFERENCES sources(id) ON DELETE RESTRICT ON UPDATE NO ACTION
  ) ENGINE=InnoDB`,
];

/** Tables of the first version. Statements only move forward: there is nothing to go back to. */
export class FirstCut1764000000000 implements MigrationInterface {
  readonly name = "FirstCut1764000000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("the first version has no earlier one to go back to"));
  }
}
