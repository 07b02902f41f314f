import {
  dictionaryOf,
  plainMatch,
  type Filter,
  type OneOfCondition,
  type StoredTable,
  type TextCondition,
} from "@orisma/core/internal";
import type { ServedListing } from "../listings/index.js";

/**
 * The columns by which an index would find what a filter keeps: of conditions that all must hold, and
 * whose values lie together in the order of the column. Parts of strings do not, unless the column has a
 * dictionary, nor do all but a few values, and one condition of several is not enough.
 */
export function servedBy(filter: Filter, table: StoredTable | null): readonly string[] {
  switch (filter.kind) {
    case "all":
      return filter.of.flatMap((each) => servedBy(each, table));
    case "date":
    case "number":
      return filter.side === "inside" && filter.blanks !== "include" ? [filter.column] : [];
    case "partial":
      return servedBy(filter.dates, table);
    case "text":
    case "oneOf":
      return isFoundByIndex(filter, table) ? [filter.column] : [];
    case "overlap":
      return filter.side === "inside" ? [filter.start, filter.end] : [];
    default:
      return [];
  }
}

function isFoundByIndex(
  condition: TextCondition | OneOfCondition,
  table: StoredTable | null,
): boolean {
  const { column, side, blanks, caseSensitive } = condition;
  const stored = table?.columns.get(column);
  if (side === "outside" || blanks === "include") return false;
  if (stored?.column.type !== "text") return condition.kind === "oneOf";
  if (table !== null && dictionaryOf(column, table) !== null) return true;
  // An imported text is indexed as it is folded, another as it is.
  if (caseSensitive !== (stored.storage === "attached")) return false;
  if (condition.kind === "oneOf") return true;
  return ["is", "begins"].includes(plainMatch(condition.pattern)?.match ?? "");
}

/** Whether an index of a listing's source begins with a column by which a condition is found. */
export function hasIndexFor(condition: Filter, { source }: ServedListing): boolean {
  const leading = new Set([...source.indexes.values()].map(([first]) => first));
  return servedBy(condition, source.table).some((column) => leading.has(column));
}

/**
 * The columns of the index that would find what a condition keeps, in the order of the listing's main date where
 * that helps; null where none would, or the table is not one of ours.
 */
export function indexFor(
  condition: Filter,
  { source, declaration: { mainDate } }: ServedListing,
): readonly string[] | null {
  const { imported } = source;
  const [column] = servedBy(condition, source.table);
  const stored = imported?.columns.get(column ?? "");
  if (stored === undefined || column === undefined) return null;
  const isText = stored.column.type === "text" && stored.dictionary === null;
  const isDate = stored.column.type === "date";
  const hasMainDate = imported?.columns.get(mainDate)?.column.type === "date";
  return isText || isDate || !hasMainDate ? [column] : [column, mainDate];
}
