import type { Filter } from "./filter.js";

/** The columns that a filter speaks of. */
export function columnsOf(filter: Filter): readonly string[] {
  switch (filter.kind) {
    case "all":
    case "any":
      return filter.of.flatMap(columnsOf);
    case "not":
      return columnsOf(filter.of);
    case "overlap":
      return [filter.start, filter.end];
    case "days":
      return [filter.from, filter.to];
    case "columns":
      return [filter.left, filter.right];
    default:
      return [filter.column];
  }
}
