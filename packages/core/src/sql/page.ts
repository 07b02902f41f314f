import { MS_PER_DAY } from "../calendar/index.js";
import { guarded } from "./compared.js";
import { counted, kept } from "./counting.js";
import type { Dialect } from "./dialect.js";
import { joined, nameOf, sql, valueOf, type Fragment, type Statement } from "./fragment.js";
import { STATE_CODES } from "./own.js";
import { halfOf } from "./page-parts.js";
import type { PageQuery, Position, RecordOrder } from "./page-query.js";
import { cellOf } from "./raw.js";
import { render } from "./render.js";
import { datesOf, orderOf, storedColumn, type StoredTable } from "./storage.js";

/**
 * The query of one page. The result's columns are `k` (the key), `n0`, `n1`, … for the counts, for
 * each column `v0`, `v1`, …, and beside one that can be unreadable `u0`, `u1`, …: its raw text
 * where it is; last `o`, the stored value of the order's column, unless that is among the
 * columns. {@link pageFields} tells their places.
 *
 * The counts are part of the statement, and so of the same snapshot as the page; the database
 * makes each once. NULL counts as the lowest value: blanks and unreadables come first
 * ascending, last descending.
 */
export function pageStatement(query: PageQuery, table: StoredTable, dialect: Dialect): Statement {
  const key = nameOf(table.key);
  const { column } = query.order;
  const order = column === null ? null : orderOf(column, table);
  const fields = [
    sql`${key} AS ${nameOf("k")}`,
    ...query.counts.map(
      (count, index) => sql`(${counted(count, table)}) AS ${nameOf(`n${index}`)}`,
    ),
    ...query.columns.flatMap((name, index) => selected(name, index, table)),
    ...(order === null || orderAmong(query, table) >= 0
      ? []
      : [sql`${placeOf(query, order, table)} AS ${nameOf("o")}`]),
  ];
  const where = kept(query, table, "page");
  // Those without a value have no order of their own.
  const by = query.half === "none" ? null : order;
  const place = query.after === null ? null : placeAfter(query, query.after, by, key, table);
  const conditions = [where, halfOf(query, table), place].filter((part) => part !== null);
  const clause = conditions.length === 0 ? sql`` : sql` WHERE ${joined(conditions, sql` AND `)}`;
  const direction = query.order.descending ? sql` DESC` : sql``;
  const keys = (by === null ? [key] : [by, key]).map((each) => sql`${each}${direction}`);
  return render(
    sql`SELECT ${joined(fields, sql`, `)} FROM ${nameOf(table.table)}${clause} ORDER BY ${joined(keys, sql`, `)} LIMIT ${valueOf(query.limit)}`,
    dialect,
  );
}

/** The places of a page's fields in a row of its result, counted from 0. */
export interface PageFields {
  readonly key: number;
  readonly counts: readonly number[];
  /** For each column its value, and its raw text where it can be unreadable. */
  readonly columns: readonly { readonly value: number; readonly unreadable: number | null }[];
  /** The value of the order's column; null where the key alone orders. */
  readonly order: number | null;
}

/** Where the fields of a page stand in a row of its result. */
export function pageFields(query: PageQuery, table: StoredTable): PageFields {
  let next = 1 + query.counts.length;
  const columns = query.columns.map((name) => {
    const value = next++;
    return { value, unreadable: cellOf(storedColumn(name, table)) === null ? null : next++ };
  });
  const among = orderAmong(query, table);
  return {
    key: 0,
    counts: query.counts.map((_, index) => 1 + index),
    columns,
    order: query.order.column === null ? null : (columns[among]?.value ?? next),
  };
}

/** What tells a record's place: of a column whose key is made, only that of a date is one. */
function placeOf({ order: { column } }: PageQuery, order: Fragment, table: StoredTable): Fragment {
  if (column === null || storedColumn(column, table).column.type !== "date") return order;
  const { keepsOrder, isFilled } = datesOf(column, table);
  return keepsOrder ? order : sql`CASE WHEN ${isFilled} THEN ${order} END`;
}

/** The place of a row of a page, after which another begins. */
export function positionOf(
  row: readonly (string | number | null)[],
  fields: PageFields,
  { column }: RecordOrder,
  table: StoredTable,
): Position {
  const key = row[fields.key] ?? null;
  const value = fields.order === null ? null : (row[fields.order] ?? null);
  if (column === null || value === null) return { key, value };
  const isDate = storedColumn(column, table).column.type === "date";
  const dates = isDate ? datesOf(column, table) : null;
  // A value that is no date stands among those without one.
  const isPlaced = dates === null || dates.blanksAside || !Number.isNaN(dates.msOf(value));
  return { key, value: isPlaced ? value : null };
}

/** The place among a page's columns of the one that orders it as it stands; -1 for none. */
function orderAmong({ order: { column }, columns }: PageQuery, table: StoredTable): number {
  if (column === null) return -1;
  const isAsItStands =
    storedColumn(column, table).column.type !== "date" || datesOf(column, table).keepsOrder;
  return isAsItStands ? columns.indexOf(column) : -1;
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
  { order: asked }: PageQuery,
  after: Position,
  order: Fragment | null,
  key: Fragment,
  table: StoredTable,
): Fragment {
  const { elsewhere } = after;
  if (elsewhere === undefined) return afterPosition(asked, after, order, key);
  const { column, descending } = asked;
  const includesTies = elsewhere.ties === "all";
  if (order === null || column === null || after.value === null) {
    return includesTies ? sql`1 = 1` : sql`1 = 0`;
  }
  if (storedColumn(column, table).column.type !== "date" || elsewhere.ms === null) {
    const at = valueOf(after.value);
    if (descending) return includesTies ? sql`${order} <= ${at}` : sql`${order} < ${at}`;
    return includesTies ? sql`${order} >= ${at}` : sql`${order} > ${at}`;
  }
  const dates = datesOf(column, table);
  const next = elsewhere.ms + (dates.kind === "date" ? MS_PER_DAY : 1);
  const bound = descending
    ? dates.before(includesTies ? next : elsewhere.ms)
    : dates.from(includesTies ? elsewhere.ms : next);
  if (bound === "none") return sql`1 = 0`;
  return bound === "all" ? sql`1 = 1` : guarded(bound, dates);
}

/**
 * The records beyond a place. The first bound is redundant, and lets the index begin at the
 * place: a row value `(d, id) > (x, y)` alone is read from the start of the index.
 */
function afterPosition(
  { descending }: RecordOrder,
  { value, key: keyValue }: Position,
  order: Fragment | null,
  key: Fragment,
): Fragment {
  const beyondKey = descending
    ? sql`${key} < ${valueOf(keyValue)}`
    : sql`${key} > ${valueOf(keyValue)}`;
  if (order === null) return beyondKey;
  if (value === null) {
    const within = sql`(${order} IS NULL AND ${beyondKey})`;
    return descending ? within : sql`(${within} OR ${order} IS NOT NULL)`;
  }
  const at = valueOf(value);
  return descending
    ? sql`(${order} <= ${at} AND (${order} < ${at} OR ${beyondKey}) OR ${order} IS NULL)`
    : sql`(${order} >= ${at} AND (${order} > ${at} OR ${beyondKey}))`;
}
