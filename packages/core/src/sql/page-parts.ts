import type { DateCondition, Filter } from "../filters/index.js";
import type { Fragment } from "./fragment.js";
import { firstOrder, usualBlanks } from "./order.js";
import type { PageQuery } from "./page-query.js";
import {
  conjuncts,
  dayParts,
  manyRanges,
  partsOf,
  piecesOf,
  withPieces,
  type ManyRanges,
  type RangePiece,
} from "./ranges.js";
import { cellsOf, columnIn, datesOf, type StoredTable } from "./storage.js";

/**
 * The queries by which a page is filled, one after the other until it is full: one, unless it is
 * ordered by a column of which many intervals are requested. The counts come with the first.
 */
export function pageParts(query: PageQuery, table: StoredTable): readonly PageQuery[] {
  // What is passed over is counted off in one order.
  if (query.offset !== undefined || query.only !== undefined) return [query];
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
  const { column } = query.order;
  if (column === null) return null;
  const usual = usualBlanks(query.order);
  const { blanks = usual } = query.order;
  if (leavesBlanksOut(query.filter, column)) return null;
  const groupNulls = firstOrder(query.order, table)?.groupNulls === true;
  const { after } = query;
  if (groupNulls && blanks === usual && after?.elsewhere === undefined) return null;
  const isBehind = after?.value === null;
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

/** Whether some of what a query keeps may have no value in the column of its order. */
export function mayHaveNone({ filter, order: { column }, half }: PageQuery): boolean {
  return half === undefined && column !== null && !leavesBlanksOut(filter, column);
}

/** Whether every record that a filter keeps has a date in a column. */
function leavesBlanksOut(filter: Filter, column: string): boolean {
  return conjuncts(filter).some(
    (each) => each.kind === "date" && each.column === column && each.blanks === "exclude",
  );
}

/** The same from its beginning, and without the counts, which come with the first. */
function from(query: PageQuery): PageQuery {
  return { ...query, after: null, counts: [] };
}

/** Of the records only those with a value in the order's column, or those without one. */
export function halfOf({ half, order }: PageQuery, table: StoredTable): Fragment | null {
  if (half === undefined || order.column === null) return null;
  const { isFilled, isNotFilled } = cellsOf(order.column, table);
  return half === "values" ? isFilled : isNotFilled;
}

function rangeParts(query: PageQuery, table: StoredTable): readonly PageQuery[] {
  const { column, descending } = query.order;
  const after = query.after?.value ?? null;
  const at = typeof after === "bigint" ? Number(after) : after;
  const many = manyRanges(query.filter, table, "page") ?? unordered(query, table);
  if (many?.condition.column !== column) return [query];
  // In such an order the place gives the date, and not what is stored.
  if (many.dates.isFiner && (query.order.then ?? []).length > 0) return [query];
  const { condition, dates, rest } = many;
  const parts = dates.keepsOrder
    ? partsOf(many, descending, at)
    : dayParts(condition, dates, descending, at);
  if (parts === null) return [query];
  return parts.map((pieces, index) => ({
    ...query,
    filter: { kind: "all", of: [withPieces(condition, inOrder(pieces)), ...rest] },
    counts: index === 0 ? query.counts : [],
  }));
}

/** What narrows the column of the order where that keeps none: a page is walked day by day. */
function unordered({ filter, order }: PageQuery, table: StoredTable): ManyRanges | null {
  const { column } = order;
  if (column === null || columnIn(column, table).type !== "date") return null;
  const dates = datesOf(column, table);
  if (dates.keepsOrder) return null;
  const all = conjuncts(filter);
  const condition = all.find(
    (each): each is DateCondition => each.kind === "date" && each.column === column,
  );
  if (condition === undefined) return null;
  const rest = all.filter((each) => each !== condition);
  return { condition, dates, pieces: piecesOf(condition, dates.kind), rest };
}

function inOrder(pieces: readonly RangePiece[]): readonly RangePiece[] {
  const start = ({ interval }: RangePiece) => interval.start?.instant ?? -Infinity;
  return [...pieces].sort((a, b) => start(a) - start(b));
}
