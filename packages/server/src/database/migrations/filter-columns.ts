import type { MigrationInterface, QueryRunner } from "typeorm";

/** A list without columns once meant all columns, and now means none: `"all"` says all. */
const meaningAll = (table: string) =>
  `UPDATE ${table} SET declaration = JSON_SET(declaration, '$.filter.columns', 'all')
    WHERE JSON_TYPE(JSON_EXTRACT(declaration, '$.filter.columns')) = 'ARRAY'
      AND JSON_LENGTH(declaration, '$.filter.columns') = 0`;

/** Writes `all` where a declaration has an empty list of columns that callers may filter by. */
export class FilterColumns1764800000000 implements MigrationInterface {
  readonly name = "FilterColumns1764800000000";

  async up(runner: QueryRunner): Promise<void> {
    for (const table of ["listings", "listing_versions"]) await runner.query(meaningAll(table));
  }

  down(): Promise<void> {
    return Promise.reject(new Error("versions of the database only move forward"));
  }
}
