import type { MigrationInterface, QueryRunner } from "typeorm";

const STATEMENT = `CREATE TABLE IF NOT EXISTS watch_looks (
  id int unsigned NOT NULL AUTO_INCREMENT,
  sourceId int unsigned NOT NULL,
  place varchar(2000) NOT NULL,
  outcome varchar(16) NOT NULL,
  firstAt bigint NOT NULL,
  lastAt bigint NOT NULL,
  looks int unsigned NOT NULL,
  problem varchar(500) NULL,
  importNumber int unsigned NULL,
  records int unsigned NULL,
  form text NULL,
  PRIMARY KEY (id),
  KEY watch_looks_source (sourceId, id),
  CONSTRAINT looks_of_source FOREIGN KEY (sourceId) REFERENCES sources (id) ON DELETE CASCADE ON UPDATE NO ACTION
) ENGINE = InnoDB`;

/** What became of looking at the files that are taken by themselves. */
export class WatchLooks1766300000000 implements MigrationInterface {
  readonly name = "WatchLooks1766300000000";

  async up(runner: QueryRunner): Promise<void> {
    await runner.query(STATEMENT);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
