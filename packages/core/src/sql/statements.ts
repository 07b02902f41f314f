import { MS_PER_DAY, type Edge, type Interval } from "../calendar/index.js";

import { whereOf } from "./condition.js";
import {
  countValues,
  joined,
  nameOf,
  render,
  sql,
  call,
  valueOf,
  type Fragment,
  type SqlValue,
  type Statement,
} from "./fragment.js";
import { face, type DateCondition, type Filter } from "../filters/index.js";
import type { StoredCells } from "./cells.js";
import type { Dialect } from "./dialect.js";
import { guarded } from "./compared.js";
import { MARIADB } from "./mariadb.js";
import { STATE_CODES } from "./own.js";
import { conjuncts, dayParts, manyRanges, partsOf, type ManyRanges } from "./ranges.js";
import {
  cellsOf,
  datesOf,
  orderOf,
  storedColumn,
  type StoredColumn,
  type StoredTable,
} from "./storage.js";

/** The order of a page: one column, then the key in the same direction. */
export interface RecordOrder {
  /** A column of the catalogue, or null for the key alone. */
  readonly column: string | null;
  readonly descending: boolean;
  /**
   * Where cells without a value stand: where the database has them unless told, which is first
   * ascending and last descending.
   */
  readonly blanks?: BlankPlace;
}

export const BLANK_PLACES = ["first", "last"] as const;
export type BlankPlace = (typeof BLANK_PLACES)[number];

/** The place in an order after which a page begins: the values of the record before it. */
export interface Position {
  /** The stored value of the order's column; null for a blank or unreadable cell. */
  readonly value: SqlValue;
  readonly key: SqlValue;
  /**
   * For a record of another table, in an order over several: its date in milliseconds (as a cell's
   * `ms`), which each table stores in its own way, and whether records with the very same come
   * after it ("all") or before ("none").
   */
  readonly elsewhere?: { readonly ms: number | null; readonly ties: "all" | "none" };
}

/** A count that is made beside a page. */
export interface CountQuery {
  readonly filter: Filter;
  /** Records that are left out, whatever the filter keeps. */
  readonly without?: Filter;
  /** Counting stops one beyond it, so that the cost is the same at any size; null for never. */
  readonly cap: number | null;
}

/** What a page of records is made of. */
export interface PageQuery {
  readonly filter: Filter;
  /** Records that are left out, whatever the filter keeps. */
  readonly without?: Filter;
  readonly columns: readonly string[];
  readonly order: RecordOrder;
  readonly after: Position | null;
  /** Records at most, a whole number. */
  readonly limit: number;
  /** Totals to give with every record of the page. */
  readonly counts: readonly CountQuery[];
  /** Of the records only those with a value in the order's column, or those without one. */
  readonly half?: "values" | "none";
}

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
  const where = kept(query, table);
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

/**
 * The queries by which a page is filled, one after the other until it is full: one, unless it is
 * ordered by a column of which many stretches are asked for. The counts come with the first.
 */
export function pageParts(query: PageQuery, table: StoredTable): readonly PageQuery[] {
  const halves = halvesOf(query, table);
  return halves === null
    ? rangeParts(query, table)
    : halves.flatMap((half) => (half.half === "values" ? rangeParts(half, table) : [half]));
}

/**
 * The two halves of a page whose blanks stand where the database does not put them: those with a
 * value and those without, in their order. Null where the database's own order will do.
 */
function halvesOf(query: PageQuery, table: StoredTable): readonly PageQuery[] | null {
  const { column, descending } = query.order;
  if (column === null) return null;
  const usual: BlankPlace = descending ? "last" : "first";
  const { blanks = usual } = query.order;
  const { column: ordered } = storedColumn(column, table);
  if (leavesBlanksOut(query.filter, column)) return null;
  const isAside = ordered.type !== "date" || datesOf(column, table).blanksAside;
  const { after } = query;
  if (isAside && blanks === usual && after?.elsewhere === undefined) return null;
  const isBehind = after !== null && after.value === null;
  const values: PageQuery = { ...query, half: "values" };
  // Of the blanks of another table either all or none are left.
  const ties = isBehind ? (after.elsewhere?.ties ?? null) : null;
  const none: PageQuery = { ...query, half: "none", ...(ties === null ? {} : { after: null }) };
  if (ties === "none") return blanks === "last" ? [] : [from(values)];
  if (blanks === "last") return isBehind ? [none] : [values, from(none)];
  // A place among the values has all that are blank behind it.
  if (query.after !== null && !isBehind) return [values];
  return [none, from(values)];
}

/** Whether every record that a filter keeps has a date in a column. */
function leavesBlanksOut(filter: Filter, column: string): boolean {
  return conjuncts(filter).some(
    (each) => each.kind === "date" && each.column === column && each.blanks === "leave",
  );
}

/** The same from its beginning, and without the counts, which come with the first. */
function from(query: PageQuery): PageQuery {
  return { ...query, after: null, counts: [] };
}

function halfOf({ half, order }: PageQuery, table: StoredTable): Fragment | null {
  if (half === undefined || order.column === null) return null;
  const { isFilled, isNotFilled } = orderedCells(order.column, table);
  return half === "values" ? isFilled : isNotFilled;
}

/** A text of white space has a place in an order like any other. */
function orderedCells(
  name: string,
  table: StoredTable,
): Pick<StoredCells, "isFilled" | "isNotFilled"> {
  const { column, value } = storedColumn(name, table);
  if (column.type !== "text") return cellsOf(name, table);
  return {
    isFilled: sql`${nameOf(value)} IS NOT NULL`,
    isNotFilled: sql`${nameOf(value)} IS NULL`,
  };
}

function rangeParts(query: PageQuery, table: StoredTable): readonly PageQuery[] {
  const { column, descending } = query.order;
  const after = query.after?.value ?? null;
  const at = typeof after === "bigint" ? Number(after) : after;
  const many = manyRanges(query.filter, table) ?? unordered(query, table);
  if (many?.condition.column !== column) return [query];
  const { condition, dates, rest } = many;
  const parts = dates.keepsOrder
    ? partsOf(many, descending, at)
    : dayParts(condition, dates, descending, at);
  if (parts === null) return [query];
  return parts.map((intervals, index) => ({
    ...query,
    filter: { kind: "all", of: [{ ...condition, intervals: inOrder(intervals) }, ...rest] },
    counts: index === 0 ? query.counts : [],
  }));
}

/** What narrows the column of the order where that keeps none: a page is walked day by day. */
function unordered({ filter, order }: PageQuery, table: StoredTable): ManyRanges | null {
  const { column } = order;
  if (column === null || storedColumn(column, table).column.type !== "date") return null;
  const dates = datesOf(column, table);
  if (dates.keepsOrder) return null;
  const all = conjuncts(filter);
  const condition = all.find(
    (each): each is DateCondition => each.kind === "date" && each.column === column,
  );
  if (condition === undefined) return null;
  return { condition, dates, rest: all.filter((each) => each !== condition) };
}

function inOrder(intervals: readonly Interval[]): readonly Interval[] {
  return [...intervals].sort(
    (a, b) => (a.start?.instant ?? -Infinity) - (b.start?.instant ?? -Infinity),
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

/** Where cells have a state beside them; null where they stand alone. */
function cellOf(stored: StoredColumn) {
  return stored.storage === "own" ? stored.cell : null;
}

/** What a column's cells hold, as it came: of a bare one in the database's own text. */
function rawOf(stored: StoredColumn): Fragment {
  if (stored.storage === "own") return nameOf(stored.cell?.raw ?? stored.value);
  return call(stored.holdsText ? "exactOf" : "shown", nameOf(stored.value));
}

/** A filter as what stands after WHERE; an empty text where it keeps everything. */
export function whereStatement(filter: Filter, table: StoredTable, dialect: Dialect): Statement {
  return render(whereOf(filter, table) ?? sql``, dialect);
}

/** The query of a total alone; its one field is `n`. */
export function countStatement(count: CountQuery, table: StoredTable, dialect: Dialect): Statement {
  return render(counted(count, table), dialect);
}

/**
 * The query of a column's distinct stored texts, the most frequent first: `v` the text, `n` the
 * number of its cells. Texts differ in letter case, accents and spaces as they are stored.
 */
export function distinctStatement(
  name: string,
  limit: number,
  table: StoredTable,
  dialect: Dialect,
): Statement {
  const stored = storedColumn(name, table);
  const text = stored.storage === "own" ? call("exact", rawOf(stored)) : rawOf(stored);
  const [v, n] = [nameOf("v"), nameOf("n")];
  return render(
    sql`SELECT ${text} AS ${v}, COUNT(*) AS ${n} FROM ${nameOf(table.table)} GROUP BY ${v} ORDER BY ${n} DESC, ${v} LIMIT ${valueOf(limit)}`,
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
export function extentStatement(name: string, table: StoredTable, dialect: Dialect): Statement {
  const { order, guard } = datesOf(name, table);
  const [first, last] = [nameOf("first"), nameOf("last")];
  const dated = guard === null ? sql`` : sql` WHERE ${guard}`;
  return render(
    sql`SELECT MIN(${order}) AS ${first}, MAX(${order}) AS ${last} FROM ${nameOf(table.table)}${dated}`,
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
  table: StoredTable,
  dialect: Dialect,
): Statement {
  const dates = datesOf(name, table);
  const [column, from] = [dates.order, nameOf(table.table)];
  const ms = face(edge, dates.kind);
  const [before, after] = [dates.before(ms), dates.from(ms)].map((bound) => {
    if (bound === "none") return sql` WHERE 1 = 0`;
    const where = bound === "all" ? dates.guard : guarded(bound, dates);
    return where === null ? sql`` : sql` WHERE ${where}`;
  });
  return render(
    sql`SELECT (SELECT MAX(${column}) FROM ${from}${before ?? sql``}) AS ${nameOf("before")}, (SELECT MIN(${column}) FROM ${from}${after ?? sql``}) AS ${nameOf("after")}`,
    dialect,
  );
}

/**
 * The query of records' texts as they came, in the order of the key, after one: `k` the key, then
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
  const texts = names.map((name) => rawOf(storedColumn(name, table)));
  const place = after === null ? sql`` : sql` WHERE ${key} > ${valueOf(after)}`;
  return render(
    sql`SELECT ${joined([key, ...texts], sql`, `)} FROM ${nameOf(table.table)}${place} ORDER BY ${key} LIMIT ${valueOf(limit)}`,
    dialect,
  );
}

/**
 * What the owner of a table can run so that an index finds dates whose texts are in another order:
 * a key of their digits, which no value can make fail. Null for a column that needs none.
 */
export function orderKeyDdl(name: string, table: StoredTable): string | null {
  const stored = storedColumn(name, table);
  if (stored.storage === "own" || stored.cells.type !== "date") return null;
  const { orderKey } = stored.cells;
  if (orderKey === null) return null;
  const key = nameOf(`${stored.value}_key`);
  const digits: Fragment = { kind: "text", text: String(orderKey.digits) };
  return render(
    sql`ALTER TABLE ${nameOf(table.table)} ADD COLUMN ${key} CHAR(${digits}) CHARACTER SET ascii AS (${orderKey.expression}) VIRTUAL, ADD KEY (${key})`,
    MARIADB,
  ).text;
}

/** The query of one record's texts as they came: the key, then the text of each column. */
export function recordStatement(
  names: readonly string[],
  id: SqlValue,
  table: StoredTable,
  dialect: Dialect,
): Statement {
  const key = nameOf(table.key);
  const texts = names.map((name) => rawOf(storedColumn(name, table)));
  return render(
    sql`SELECT ${joined([key, ...texts], sql`, `)} FROM ${nameOf(table.table)} WHERE ${key} = ${valueOf(id)}`,
    dialect,
  );
}

/**
 * What a filter keeps without what another does. That is no negation, which would leave out the
 * blanks of both: the others are told by their keys.
 */
function kept(
  { filter, without }: { readonly filter: Filter; readonly without?: Filter },
  table: StoredTable,
): Fragment | null {
  const where = whereOf(filter, table);
  if (without === undefined) return where;
  const left = whereOf(without, table);
  if (left === null) return sql`1 = 0`;
  const key = nameOf(table.key);
  const others = sql`${key} NOT IN (SELECT ${key} FROM ${nameOf(table.table)} WHERE ${left})`;
  return where === null ? others : sql`${where} AND ${others}`;
}

function counted(count: CountQuery, table: StoredTable): Fragment {
  const many = manyRanges(count.filter, table);
  if (many === null) return countedWhole(count, table);
  const { condition, rest } = many;
  // What else must hold is said again with every stretch.
  const again = whereOf({ kind: "all", of: rest }, table);
  const values = again === null ? 0 : countValues(again);
  if (condition.intervals.length * (values + 3) > MOST_VALUES) return countedWhole(count, table);
  const n = nameOf("n");
  const each = condition.intervals.map((interval) => {
    const of: readonly Filter[] = [{ ...condition, intervals: [interval] }, ...rest];
    return countedWhole({ ...count, filter: { kind: "all", of } }, table);
  });
  return sql`SELECT SUM(${n}) AS ${n} FROM (${joined(each, sql` UNION ALL `)}) AS ${nameOf("ranges")}`;
}

/** Values of a count by stretches at most; the protocol's own limit is 65,535 a statement. */
const MOST_VALUES = 30_000;

function countedWhole(count: CountQuery, table: StoredTable): Fragment {
  const { cap } = count;
  const where = kept(count, table);
  const clause = where === null ? sql`` : sql` WHERE ${where}`;
  const from = nameOf(table.table);
  const n = nameOf("n");
  if (cap === null) return sql`SELECT COUNT(*) AS ${n} FROM ${from}${clause}`;
  const limit = valueOf(cap + 1);
  return sql`SELECT COUNT(*) AS ${n} FROM (SELECT 1 FROM ${from}${clause} LIMIT ${limit}) AS ${nameOf("capped")}`;
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
