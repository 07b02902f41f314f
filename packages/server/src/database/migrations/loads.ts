import type { MigrationInterface, QueryRunner } from "typeorm";

/** `IF NOT EXISTS` here too: the database does not roll a table back. */
const STATEMENTS: readonly string[] = [
  `CREATE TABLE IF NOT EXISTS loads (
    id int UNSIGNED NOT NULL AUTO_INCREMENT,
    number int UNSIGNED NOT NULL,
    mode varchar(16) NOT NULL,
    state varchar(16) NOT NULL,
    file varchar(255) NULL,
    bytes bigint NOT NULL,
    sha256 char(64) CHARACTER SET ascii COLLATE ascii_bin NOT NULL,
    startedAt bigint NOT NULL,
    endedAt bigint NULL,
    refused int UNSIGNED NOT NULL DEFAULT '0',
    report json NULL,
    problem text NULL,
    sourceId int UNSIGNED NOT NULL,
    PRIMARY KEY (id),
    CONSTRAINT FK_ec2759592c67a0fec908064b41f FOREIGN KEY (sourceId) REFERENCES sources(id) ON DELETE CASCADE ON UPDATE NO ACTION
  ) ENGINE=InnoDB`,
  `CREATE TABLE IF NOT EXISTS refused_rows (
    id bigint UNSIGNED NOT NULL AUTO_INCREMENT,
    line int UNSIGNED NOT NULL,
    reason varchar(512) NOT NULL,
    cells longtext NOT NULL,
    loadId int UNSIGNED NOT NULL,
    PRIMARY KEY (id),
    CONSTRAINT FK_9fbaef8bada95c8fa408355c281 FOREIGN KEY (loadId) REFERENCES loads(id) ON DELETE CASCADE ON UPDATE NO ACTION
  ) ENGINE=InnoDB`,
  `ALTER TABLE sources
    ADD COLUMN IF NOT EXISTS \`load\` int UNSIGNED NULL,
    ADD COLUMN IF NOT EXISTS \`before\` json NULL,
    ADD COLUMN IF NOT EXISTS watch json NULL`,
];

/** Loads of files, what they refused, what can be restored, files that are watched. */
export class Loads1764100000000 implements MigrationInterface {
  readonly name = "Loads1764100000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const statement of STATEMENTS) await runner.query(statement);
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
