import type { Edge } from "../calendar/index.js";
import { EVERYTHING, columnsOf, edgeValue, type Filter } from "../filters/index.js";
import { andValid } from "./compared.js";
import { whereOf } from "./condition.js";
import type { Dialect } from "./dialect.js";
import {
  functionCall,
  joined,
  nameOf,
  numeral,
  sql,
  valueOf,
  type Fragment,
  type SqlValue,
  type Statement,
} from "./fragment.js";
import { MARIADB } from "./mariadb.js";
import { fromOf, tableOfColumn } from "./nested.js";
import { STATE_CODES } from "./imported.js";
import { cellOf, rawOf } from "./raw.js";
import { render } from "./render.js";
import { cellsOf, datesOf, storedColumn, type StoredTable } from "./storage.js";

/** Conditions that must all hold, after WHERE; nothing for none. */
function clauseOf(...conditions: readonly (Fragment | null)[]): Fragment {
  const all = conditions.filter((each) => each !== null);
  return all.length === 0 ? sql`` : sql` WHERE ${joined(all, sql` AND `)}`;
}

/** Of which records distinct values are. */
export interface DistinctOptions {
  /** How many at most, whichever they are; null for all. */
  readonly among?: number | null;
  /** One of so many, drawn evenly by the keys. */
  readonly every?: number;
  /** Those that a filter keeps. */
  readonly within?: Filter;
}

/**
 * The query of a column's distinct stored strings, the most frequent first: `v` the text, `n` the
 * number of its cells. Strings differ in letter case, accents and spaces as they are stored.
 */
export function distinctStatement(
  name: string,
  limit: number,
  table: StoredTable,
  dialect: Dialect,
  { among = null, every = 1, within = EVERYTHING }: DistinctOptions = {},
): Statement {
  const stored = storedColumn(name, table);
  const text = stored.storage === "imported" ? functionCall("exact", rawOf(stored)) : rawOf(stored);
  const [v, n] = [nameOf("v"), nameOf("n")];
  const read = tableOfColumn(name, table);
  const whole = fromOf(read, [name, ...columnsOf(within)]);
  const drawn = sql`${functionCall("spread", nameOf(table.key))} % ${valueOf(every)} = 0`;
  const where = clauseOf(whereOf(within, read), every > 1 ? drawn : null);
  const from =
    among === null
      ? whole
      : sql`(SELECT * FROM ${whole}${where} LIMIT ${valueOf(among)}) AS ${nameOf("some")}`;
  return render(
    sql`SELECT ${text} AS ${v}, COUNT(*) AS ${n} FROM ${from}${among === null ? where : sql``} GROUP BY ${v} ORDER BY ${n} DESC, ${v} LIMIT ${valueOf(limit)}`,
    dialect,
  );
}

/** The query of a column's unreadable cells: `k` the record's key, `v` the text as it came. */
export function unreadableStatement(
  name: string,
  limit: number,
  table: StoredTable,
  dialect: Dialect,
): Statement | null {
  const stored = storedColumn(name, table);
  if (stored.column.type === "text") return null;
  const cell = cellOf(stored);
  const key = nameOf(table.key);
  const unreadable =
    cell === null
      ? cellsOf(name, table).isUnreadable
      : sql`${nameOf(cell.state)} = ${valueOf(STATE_CODES.unreadable)}`;
  return render(
    sql`SELECT ${key} AS ${nameOf("k")}, ${rawOf(stored)} AS ${nameOf("v")} FROM ${nameOf(table.table)} WHERE ${unreadable} ORDER BY ${key} LIMIT ${valueOf(limit)}`,
    dialect,
  );
}

/** The query of a column's least and greatest dates: `first` and `last`, NULL where it has none. */
export function extentStatement(
  name: string,
  table: StoredTable,
  dialect: Dialect,
  /** Of which records. */
  within: Filter = EVERYTHING,
): Statement {
  const { order, guard } = datesOf(name, table);
  const [first, last] = [nameOf("first"), nameOf("last")];
  const read = tableOfColumn(name, table);
  const dated = clauseOf(guard, whereOf(within, read));
  return render(
    sql`SELECT MIN(${order}) AS ${first}, MAX(${order}) AS ${last} FROM ${fromOf(read, [name, ...columnsOf(within)])}${dated}`,
    dialect,
  );
}

/**
 * The query of the dates nearest to an edge: `before` the last one before it, `after` the first at
 * or after it; NULL where there is none.
 */
export function neighbourStatement(
  name: string,
  edge: Edge,
  /** Of which records the dates are. */
  within: Filter,
  table: StoredTable,
  dialect: Dialect,
): Statement {
  const dates = datesOf(name, table);
  const read = tableOfColumn(name, table);
  const from = fromOf(read, [name, ...columnsOf(within)]);
  const [column, inside] = [dates.order, whereOf(within, read)];
  const ms = edgeValue(edge, dates.kind);
  const [before, after] = [dates.before(ms), dates.from(ms)].map((bound) => {
    if (bound === "none") return sql` WHERE 1 = 0`;
    const where = bound === "all" ? dates.guard : andValid(bound, dates);
    return clauseOf(where, inside);
  });
  return render(
    sql`SELECT (SELECT MAX(${column}) FROM ${from}${before ?? sql``}) AS ${nameOf("before")}, (SELECT MIN(${column}) FROM ${from}${after ?? sql``}) AS ${nameOf("after")}`,
    dialect,
  );
}

/**
 * The query of records' strings as they came, in the order of the key, after one: `k` the key, then
 * the text of each column.
 */
export function rawTextStatement(
  names: readonly string[],
  after: SqlValue,
  limit: number,
  table: StoredTable,
  dialect: Dialect,
): Statement {
  const key = nameOf(table.key);
  const strings = names.map((name) => rawOf(storedColumn(name, table)));
  const place = after === null ? sql`` : sql` WHERE ${key} > ${valueOf(after)}`;
  return render(
    sql`SELECT ${joined([key, ...strings], sql`, `)} FROM ${nameOf(table.table)}${place} ORDER BY ${key} LIMIT ${valueOf(limit)}`,
    dialect,
  );
}

/**
 * What the owner of a table can run so that an index finds dates whose strings are in another order:
 * a key of their digits, which no value can make fail. Null for a column that needs none.
 */
export function orderKeyDdl(name: string, table: StoredTable): string | null {
  const stored = storedColumn(name, table);
  if (stored.storage === "imported" || stored.cells.type !== "date") return null;
  const { orderKey } = stored.cells;
  if (orderKey === null) return null;
  const key = nameOf(`${stored.value}_key`);
  const digits = numeral(orderKey.digits);
  return render(
    sql`ALTER TABLE ${nameOf(table.table)} ADD COLUMN ${key} CHAR(${digits}) CHARACTER SET ascii AS (${orderKey.expression}) VIRTUAL, ADD KEY (${key})`,
    MARIADB,
  ).text;
}

/** The query of one record's strings as they came: the key, then the text of each column. */
export function recordStatement(
  names: readonly string[],
  id: SqlValue,
  table: StoredTable,
  dialect: Dialect,
): Statement {
  const key = nameOf(table.key);
  const strings = names.map((name) => rawOf(storedColumn(name, table)));
  return render(
    sql`SELECT ${joined([key, ...strings], sql`, `)} FROM ${nameOf(table.table)} WHERE ${key} = ${valueOf(id)}`,
    dialect,
  );
}
