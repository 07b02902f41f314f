import { columnsOf, type Filter } from "../filters/index.js";
import { whereOf } from "./condition.js";
import type { Dialect } from "./dialect.js";
import {
  countValues,
  joined,
  nameOf,
  sql,
  valueOf,
  type Fragment,
  type Statement,
} from "./fragment.js";
import { fromOf } from "./nested.js";
import type { CountQuery } from "./page-query.js";
import { manyRanges, withPieces, type Purpose } from "./ranges.js";
import { render } from "./render.js";
import type { StoredTable } from "./storage.js";

/** How a condition is written. */
export interface WhereOptions {
  readonly dialect: Dialect;
  /** What it is for, which has another best form: the records of a page by default. */
  readonly purpose?: Purpose;
  /** The alias of the table in the statement in which the condition stands; none by default. */
  readonly alias?: string;
  /** Writes the placeholder of the value at a position, counted from 1; the database's own by default. */
  readonly placeholders?: (position: number) => string;
}

/**
 * A filter as what stands after WHERE, with the values to bind in their order; an empty text where it
 * keeps every record. Throws a TypeError for an alias of a table with values inside, whose condition
 * names more than one table.
 */
export function compileWhere(
  filter: Filter,
  table: StoredTable,
  { dialect, purpose = "page", alias, placeholders }: WhereOptions,
): Statement {
  if (alias !== undefined && (table.nested ?? table.joins) !== undefined) {
    throw new TypeError("a table with values inside, or with columns of others, takes no alias");
  }
  const written: Dialect = {
    ...dialect,
    ...(placeholders === undefined ? {} : { placeholder: placeholders }),
    ...(alias === undefined
      ? {}
      : { quoteName: (name) => `${dialect.quoteName(alias)}.${dialect.quoteName(name)}` }),
  };
  return render(whereOf(filter, table, purpose) ?? sql``, written);
}

/** The query of a total alone; its one field is `n`. */
export function countStatement(count: CountQuery, table: StoredTable, dialect: Dialect): Statement {
  return render(countQuery(count, table), dialect);
}

/**
 * What a filter keeps without what another does. That is no negation, which would omit the
 * blanks of both: the others are excluded by their keys.
 */
export function whereClause(
  { filter, without }: { readonly filter: Filter; readonly without?: Filter },
  table: StoredTable,
  purpose: Purpose,
): Fragment | null {
  const where = whereOf(filter, table, purpose);
  if (without === undefined) return where;
  const left = whereOf(without, table);
  if (left === null) return sql`1 = 0`;
  const key = nameOf(table.key);
  const others = sql`${key} NOT IN (SELECT ${key} FROM ${fromOf(table, columnsOf(without))} WHERE ${left})`;
  return where === null ? others : sql`${where} AND ${others}`;
}

export function countQuery(count: CountQuery, table: StoredTable): Fragment {
  const many = manyRanges(count.filter, table, "count");
  if (many === null) return countedWhole(count, table);
  const { condition, pieces, rest } = many;
  // What else must hold is said again with every interval.
  const again = whereOf({ kind: "all", of: rest }, table);
  const values = again === null ? 0 : countValues(again);
  if (pieces.length * (values + 3) > MAX_VALUES) return countedWhole(count, table);
  const n = nameOf("n");
  const each = pieces.map((piece) => {
    const of: readonly Filter[] = [withPieces(condition, [piece]), ...rest];
    return countedWhole({ ...count, filter: { kind: "all", of } }, table);
  });
  return sql`SELECT SUM(${n}) AS ${n} FROM (${joined(each, sql` UNION ALL `)}) AS ${nameOf("ranges")}`;
}

/** Values of a count by intervals at most; the protocol's own limit is 65,535 a statement. */
const MAX_VALUES = 30_000;

/** A cap that no table reaches is none: counted without it an index is read alone. */
const UNCAPPED_FROM = 100_000_000;

function countedWhole(count: CountQuery, table: StoredTable): Fragment {
  const { cap } = count;
  const where = whereClause(count, table, "count");
  const clause = where === null ? sql`` : sql` WHERE ${where}`;
  const from = fromOf(table, columnsOf(count.filter));
  const n = nameOf("n");
  if (cap === null || cap >= UNCAPPED_FROM)
    return sql`SELECT COUNT(*) AS ${n} FROM ${from}${clause}`;
  const limit = valueOf(cap + 1);
  return sql`SELECT COUNT(*) AS ${n} FROM (SELECT 1 FROM ${from}${clause} LIMIT ${limit}) AS ${nameOf("capped")}`;
}
