import type { Interval } from "../calendar/index.js";
import type { DateCondition, Filter } from "../filters/index.js";
import type { StoredCells } from "./cells.js";
import { nameOf, sql, type Fragment } from "./fragment.js";
import type { BlankPlace, PageQuery } from "./page-query.js";
import { conjuncts, dayParts, manyRanges, partsOf, type ManyRanges } from "./ranges.js";
import { cellsOf, datesOf, storedColumn, type StoredTable } from "./storage.js";

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

/** Of the records only those with a value in the order's column, or those without one. */
export function halfOf({ half, order }: PageQuery, table: StoredTable): Fragment | null {
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
