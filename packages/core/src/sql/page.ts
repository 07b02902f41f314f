import { MS_PER_DAY } from "../calendar/index.js";
import { columnsOf } from "../filters/index.js";
import { andValid } from "./compared.js";
import { countQuery, whereClause } from "./counting.js";
import type { Dialect } from "./dialect.js";
import {
  joined,
  nameOf,
  sql,
  valueOf,
  type Fragment,
  type SqlValue,
  type Statement,
} from "./fragment.js";
import { STATE_CODES } from "./imported.js";
import { halfOf, mayHaveNone } from "./page-parts.js";
import type { PageQuery, Position, RecordOrder } from "./page-query.js";
import { cellOf } from "./raw.js";
import { render } from "./render.js";
import { fromOf } from "./nested.js";
import {
  afterTies,
  columnOrder,
  firstOrder,
  valueOrNull,
  termsOf,
  usualBlanks,
  type ColumnOrder,
} from "./order.js";
import { columnIn, datesOf, storedColumn, type StoredTable } from "./storage.js";

/** The query of a page, and where what it reads stands in its rows. */
export interface PageStatement extends Statement {
  readonly fields: PageFields;
}

/**
 * The query of one page. The result's columns are `k` (the key), `n0`, `n1`, … for the counts, for
 * each column `v0`, `v1`, …, and beside one that can be unreadable `u0`, `u1`, …: its raw text
 * where it is; last `o`, the stored value of the order's column, unless that is among the
 * columns.
 *
 * The counts are part of the statement, and so of the same snapshot as the page; the database
 * makes each once. NULL counts as the lowest value: blanks and unreadables come first
 * ascending, last descending.
 */
export function pageStatement(
  query: PageQuery,
  table: StoredTable,
  dialect: Dialect,
): PageStatement {
  const key = nameOf(table.key);
  const { then = [] } = query.order;
  const order = firstOrder(query.order, table);
  const fields = [
    sql`${key} AS ${nameOf("k")}`,
    ...query.counts.map(
      (count, index) => sql`(${countQuery(count, table)}) AS ${nameOf(`n${index}`)}`,
    ),
    ...query.columns.flatMap((name, index) => selected(name, index, table)),
    ...(order === null || orderAmong(query, table) >= 0
      ? []
      : [sql`${placeOf(query, order, table)} AS ${nameOf("o")}`]),
    ...then.map(
      (each, index) =>
        sql`${valueOrNull(columnOrder(each.column, table))} AS ${nameOf(`t${index}`)}`,
    ),
  ];
  const where = whereClause(query, table, "page");
  // Those without a value have no order of their own.
  const by = query.half === "none" ? null : order;
  const place = query.after === null ? null : placeAfter(query, query.after, by, key, table);
  const one = query.only === undefined ? null : onlyKeys(query.only, key);
  const conditions = [one, where, halfOf(query, table), place].filter((part) => part !== null);
  const clause = conditions.length === 0 ? sql`` : sql` WHERE ${joined(conditions, sql` AND `)}`;
  const direction = query.order.descending ? sql` DESC` : sql``;
  const terms = [
    ...(by === null ? [] : firstTerms(query, by, table, dialect)),
    ...then.flatMap((each) => termsOf(each, table)),
    sql`${key}${direction}`,
  ];
  const { offset } = query;
  const passed = offset === undefined ? sql`` : sql` OFFSET ${valueOf(offset)}`;
  const { text, values } = render(
    sql`SELECT ${joined(fields, sql`, `)} FROM ${fromOf(table, namesIn(query))}${clause} ORDER BY ${joined(terms, sql`, `)} LIMIT ${valueOf(query.limit)}${passed}`,
    dialect,
  );
  return { text, values, fields: placesOf(query, table) };
}

/** The columns that a page names itself; its counts have their own. */
function namesIn({ columns, filter, order: { column, then = [] } }: PageQuery): readonly string[] {
  const ordered = [column, ...then.map((each) => each.column)].filter((name) => name !== null);
  return [...columns, ...ordered, ...columnsOf(filter)];
}

/** Of so many keys as make few different statements: the last stands there as often as is needed. */
function onlyKeys(keys: readonly SqlValue[], key: Fragment): Fragment {
  const [first = null] = keys;
  if (keys.length <= 1) return sql`${key} = ${valueOf(first)}`;
  const places = 2 ** Math.ceil(Math.log2(keys.length));
  const last = keys.at(-1) ?? null;
  const values = Array.from({ length: places }, (_, index) => valueOf(keys[index] ?? last));
  return sql`${key} IN (${joined(values, sql`, `)})`;
}

/** The first column of an order; a page that is not read in halves says where blanks stand. */
function firstTerms(query: PageQuery, by: ColumnOrder, table: StoredTable, dialect: Dialect) {
  const { order, offset } = query;
  const { column, descending, blanks } = order;
  const isUsual = by.groupNulls && (blanks ?? usualBlanks(order)) === usualBlanks(order);
  if (offset !== undefined && column !== null && !isUsual) {
    return termsOf({ ...order, column }, table);
  }
  if (dialect.nullIs === "highest" && mayHaveNone(query)) {
    return [descending ? sql`${by.value} DESC NULLS LAST` : sql`${by.value} NULLS FIRST`];
  }
  return [descending ? sql`${by.value} DESC` : by.value];
}

/** The places of a page's fields in a row of its result, counted from 0. */
export interface PageFields {
  readonly key: number;
  readonly counts: readonly number[];
  /** For each column its value, and its raw text where it can be unreadable. */
  readonly columns: readonly { readonly value: number; readonly unreadable: number | null }[];
  /** The value of the order's column; null where the key alone orders. */
  readonly order: number | null;
  /** The values of the order's further columns. */
  readonly then: readonly number[];
}

/** Where the fields of a page stand in a row of its result. */
function placesOf(query: PageQuery, table: StoredTable): PageFields {
  let next = 1 + query.counts.length;
  const columns = query.columns.map((name) => {
    const value = next++;
    return { value, unreadable: cellOf(storedColumn(name, table)) === null ? null : next++ };
  });
  const { column, then = [] } = query.order;
  const order = column === null ? null : (columns[orderAmong(query, table)]?.value ?? next++);
  return {
    key: 0,
    counts: query.counts.map((_, index) => 1 + index),
    columns,
    order,
    then: then.map(() => next++),
  };
}

/** What gives a record's place: of a column whose key is made, only that of a value is one. */
function placeOf(
  { order: { column } }: PageQuery,
  order: ColumnOrder,
  table: StoredTable,
): Fragment {
  const isDate = column !== null && columnIn(column, table).type === "date";
  return isDate && order.isStoredValue ? order.value : valueOrNull(order);
}

/** The place of a row of a page, after which another begins. */
export function positionOf(
  row: readonly (string | number | null)[],
  fields: PageFields,
  order: RecordOrder,
  table: StoredTable,
): Position {
  const key = row[fields.key] ?? null;
  const value = fields.order === null ? null : (row[fields.order] ?? null);
  const then = fields.then.map((place) => row[place] ?? null);
  const { column } = order;
  const by = firstOrder(order, table);
  if (column === null || value === null || by === null) return { key, value, then };
  const isComparable =
    !by.isStoredValue || by.groupNulls || !Number.isNaN(datesOf(column, table).msOf(value));
  // A value that is no date stands among those without one.
  return { key, value: isComparable ? value : null, then };
}

/** The place among a page's columns of the one that orders it as it stands; -1 for none. */
function orderAmong({ order, columns }: PageQuery, table: StoredTable): number {
  const isStoredValue = firstOrder(order, table)?.isStoredValue === true;
  return isStoredValue ? columns.indexOf(order.column ?? "") : -1;
}

function selected(name: string, index: number, table: StoredTable): readonly Fragment[] {
  const stored = storedColumn(name, table);
  const { value } = stored;
  const cell = cellOf(stored);
  const selectedValue = sql`${nameOf(value)} AS ${nameOf(`v${index}`)}`;
  if (cell === null) return [selectedValue];
  const unreadable = sql`${nameOf(cell.state)} = ${valueOf(STATE_CODES.unreadable)}`;
  const raw = sql`CASE WHEN ${unreadable} THEN ${nameOf(cell.raw)} END`;
  return [selectedValue, sql`${raw} AS ${nameOf(`u${index}`)}`];
}

/** The records of a table beyond a place, which may be that of a record of another table. */
function placeAfter(
  { order: requested }: PageQuery,
  after: Position,
  order: ColumnOrder | null,
  key: Fragment,
  table: StoredTable,
): Fragment {
  const { elsewhere } = after;
  if (elsewhere === undefined) {
    return afterPosition(requested, after, order, afterTies(requested, after, key, table));
  }
  const { column, descending } = requested;
  const includesTies = elsewhere.ties === "all";
  if (order === null || column === null || after.value === null) {
    return includesTies ? sql`1 = 1` : sql`1 = 0`;
  }
  if (columnIn(column, table).type !== "date" || elsewhere.ms === null) {
    const { value } = order;
    const at = order.bound(after.value);
    if (descending) return includesTies ? sql`${value} <= ${at}` : sql`${value} < ${at}`;
    return includesTies ? sql`${value} >= ${at}` : sql`${value} > ${at}`;
  }
  const dates = datesOf(column, table);
  const next = elsewhere.ms + (dates.kind === "date" ? MS_PER_DAY : 1);
  const bound = descending
    ? dates.before(includesTies ? next : elsewhere.ms)
    : dates.from(includesTies ? elsewhere.ms : next);
  if (bound === "none") return sql`1 = 0`;
  return bound === "all" ? sql`1 = 1` : andValid(bound, dates);
}

/**
 * The records beyond a place. The first bound is redundant, and lets the index begin at the
 * place: a row value `(d, id) > (x, y)` alone is read from the start of the index.
 */
function afterPosition(
  { descending }: RecordOrder,
  { value }: Position,
  order: ColumnOrder | null,
  beyondTies: Fragment,
): Fragment {
  if (order === null) return beyondTies;
  const { value: by } = order;
  if (value === null) {
    const within = sql`(${by} IS NULL AND ${beyondTies})`;
    return descending ? within : sql`(${within} OR ${by} IS NOT NULL)`;
  }
  const at = order.bound(value);
  return descending
    ? sql`(${by} <= ${at} AND (${by} < ${at} OR ${beyondTies}) OR ${by} IS NULL)`
    : sql`(${by} >= ${at} AND (${by} > ${at} OR ${beyondTies}))`;
}
