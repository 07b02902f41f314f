import type { AttachedTable } from "@orisma/contract";
import type { DatabaseType } from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";

/** A column of a table, as the database describes it. */
export interface AttachedColumn {
  readonly name: string;
  /** In the database's own words, such as `varchar(10)`. */
  readonly type: string;
  /** Null for what cannot be filtered, such as binary data. */
  readonly holding: DatabaseType | null;
}

/** What the database says of one table. */
export interface TableCatalogue {
  readonly name: string;
  readonly kind: "table" | "view";
  readonly columns: readonly AttachedColumn[];
  /** The columns of each index in its order, by the name of the index. */
  readonly indexes: Readonly<Record<string, readonly string[]>>;
  /** Columns that identify a record by themselves. */
  readonly keys: readonly string[];
}

/** The name that the database has for the index of the primary key. */
const PRIMARY = "PRIMARY";
/** Tables of one database that are listed at most. */
const MAX_TABLES = 5_000;

/** The tables and views that the account sees, by name. */
export async function tablesOf(
  database: string,
  gateway: Gateway,
): Promise<readonly AttachedTable[]> {
  const rows = await gateway.read({
    text:
      "SELECT TABLE_NAME, TABLE_TYPE, TABLE_ROWS FROM information_schema.TABLES " +
      "WHERE TABLE_SCHEMA = ? ORDER BY TABLE_NAME LIMIT ?",
    values: [database, MAX_TABLES],
  });
  return rows.map(([name, type, about]) => {
    const kind = type === "VIEW" ? "view" : "table";
    return {
      name: String(name),
      kind,
      about: kind === "view" || about == null ? null : Number(about),
    };
  });
}

/** What the database says of a table; null where the account sees none of the name. */
export async function catalogueOf(
  database: string,
  table: string,
  gateway: Gateway,
): Promise<TableCatalogue | null> {
  const kinds = await gateway.read({
    text:
      "SELECT TABLE_NAME, TABLE_TYPE FROM information_schema.TABLES " +
      "WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ?",
    values: [database, table],
  });
  const [found] = kinds;
  if (found === undefined) return null;
  const name = String(found[0]);
  const columns = await gateway.read({
    text:
      "SELECT COLUMN_NAME, DATA_TYPE, COLUMN_TYPE, DATETIME_PRECISION, IS_NULLABLE " +
      "FROM information_schema.COLUMNS WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? " +
      "ORDER BY ORDINAL_POSITION",
    values: [database, name],
  });
  const parts = await gateway.read({
    text:
      "SELECT INDEX_NAME, COLUMN_NAME, NON_UNIQUE, SUB_PART, INDEX_TYPE " +
      "FROM information_schema.STATISTICS WHERE TABLE_SCHEMA = ? AND TABLE_NAME = ? " +
      "ORDER BY INDEX_NAME, SEQ_IN_INDEX",
    values: [database, name],
  });
  const indexes: Record<string, string[]> = {};
  const unique = new Set<string>();
  // A part of a text, or words of it, says nothing of a whole value.
  const partial = new Set(
    parts.flatMap(([index, , , part, type]) =>
      part !== null || type !== "BTREE" ? [String(index)] : [],
    ),
  );
  for (const [index, column, nonUnique] of parts) {
    if (partial.has(String(index))) continue;
    (indexes[String(index)] ??= []).push(String(column));
    if (Number(nonUnique) === 0) unique.add(String(index));
  }
  const needed = new Set(
    columns.filter(([, , , , nullable]) => nullable === "NO").map(([column]) => String(column)),
  );
  // The primary key before others.
  const byRank = [...unique].sort((a, b) => Number(b === PRIMARY) - Number(a === PRIMARY));
  const keys = byRank.flatMap((index) => {
    const [only, another] = indexes[index] ?? [];
    return only === undefined || another !== undefined || !needed.has(only) ? [] : [only];
  });
  return {
    name,
    kind: found[1] === "VIEW" ? "view" : "table",
    columns: columns.map(([column, type, whole, digits]) => ({
      name: String(column),
      type: String(whole),
      holding: databaseTypeOf(String(type), Number(digits ?? 0)),
    })),
    indexes,
    keys: [...new Set(keys)],
  };
}

/** What a column of a type holds; null for what cannot be filtered. */
export function databaseTypeOf(type: string, digits: number): DatabaseType | null {
  switch (type.toLowerCase()) {
    case "date":
      return { type: "date" };
    case "datetime":
      return { type: "timestamp", digits, zoned: false };
    case "timestamp":
      return { type: "timestamp", digits, zoned: true };
    case "tinyint":
    case "smallint":
    case "mediumint":
    case "int":
    case "bigint":
    case "year":
      return { type: "integer" };
    case "decimal":
      return { type: "decimal" };
    case "float":
    case "double":
      return { type: "float" };
    case "char":
    case "varchar":
    case "tinytext":
    case "text":
    case "mediumtext":
    case "longtext":
    case "enum":
    case "set":
      return { type: "text" };
    case "uuid":
    case "inet4":
    case "inet6":
    case "time":
      return { type: "other" };
    default:
      return null;
  }
}
