import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS`: the database does not roll tables back. */
const STATEMENTS = [
  `CREATE TABLE IF NOT EXISTS deliveries (
  id int unsigned NOT NULL AUTO_INCREMENT,
  listing varchar(64) NOT NULL,
  name varchar(64) NOT NULL,
  format varchar(16) NOT NULL,
  parameters json NOT NULL,
  time varchar(16) NOT NULL,
  at varchar(5) NULL,
  target json NOT NULL,
  secret varchar(500) CHARACTER SET ascii COLLATE ascii_bin NULL,
  caller varchar(32) NOT NULL,
  createdAt bigint NOT NULL,
  nextAt bigint NULL,
  seen varchar(64) NULL,
  PRIMARY KEY (id),
  KEY deliveries_listing (listing)
) ENGINE = InnoDB`,
  `CREATE TABLE IF NOT EXISTS delivery_runs (
  id int unsigned NOT NULL AUTO_INCREMENT,
  deliveryId int unsigned NOT NULL,
  event char(36) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
  at bigint NOT NULL,
  state varchar(16) NOT NULL,
  attempts int unsigned NOT NULL,
  nextAt bigint NULL,
  records int unsigned NULL,
  error varchar(500) NULL,
  PRIMARY KEY (id),
  KEY delivery_runs_delivery (deliveryId, id),
  KEY delivery_runs_due (state, nextAt),
  CONSTRAINT runs_of_delivery FOREIGN KEY (deliveryId) REFERENCES deliveries (id) ON DELETE CASCADE ON UPDATE NO ACTION
) ENGINE = InnoDB`,
];

/** The deliveries of listings, and what became of each. */
export class Deliveries1765800000000 implements MigrationInterface {
  readonly name = "Deliveries1765800000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
