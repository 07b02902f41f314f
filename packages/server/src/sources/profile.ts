import {
  MARIADB,
  distinctStatement,
  recogniseColumn,
  unreadableStatement,
  type Column,
  type ColumnProfile,
  type SourceProfile,
  type StoredTable,
} from "@orisma/core";
import type { Gateway } from "../database/index.js";
import { Problem } from "../http/index.js";
import type { KnownSource } from "./columns.js";

/** Distinct texts of a column that are looked at; a column with more says so. */
const MOST_DISTINCT = 100_000;
const MOST_FREQUENT = 10;
const MOST_UNREADABLE = 20;
/** Seconds that the database may take over one column. */
const COLUMN_LIMIT_S = 30;

/** Looks at the stored texts of every column; throws a problem for a source without records. */
export async function profileSource(source: KnownSource, gateway: Gateway): Promise<SourceProfile> {
  const { name, table } = source;
  if (table === null) {
    throw new Problem("not-found", `The source ${name} has no records yet: import a file`);
  }
  const columns: ColumnProfile[] = [];
  // One after the other: a look must not take all of the database's connections.
  for (const column of source.columns) columns.push(await profileColumn(column, table, gateway));
  const records = columns[0]?.recognition.cells ?? 0;
  return { source: name, records, columns };
}

async function profileColumn(
  { name, type }: Column,
  table: StoredTable,
  gateway: Gateway,
): Promise<ColumnProfile> {
  const distinct = await gateway.read(
    distinctStatement(name, MOST_DISTINCT + 1, table, MARIADB),
    COLUMN_LIMIT_S,
  );
  const values = distinct.slice(0, MOST_DISTINCT).map(([value = null, count]) => ({
    value,
    count: Number(count),
  }));
  const statement = unreadableStatement(name, MOST_UNREADABLE, table, MARIADB);
  const unreadable = statement === null ? [] : await gateway.read(statement, COLUMN_LIMIT_S);
  return {
    name,
    type,
    distinct: values.length,
    complete: distinct.length <= MOST_DISTINCT,
    recognition: recogniseColumn(values),
    frequent: values
      .slice(0, MOST_FREQUENT)
      .map(({ value, count }) => ({ value: String(value ?? ""), count })),
    unreadable: unreadable.map(([id, value]) => ({ id: id ?? "", value: String(value ?? "") })),
  };
}
