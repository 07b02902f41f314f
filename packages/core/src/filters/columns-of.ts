import { kindOfCondition } from "./conditions/index.js";
import type { Filter } from "./filter.js";

/** The columns that a filter speaks of. */
export function columnsOf(filter: Filter): readonly string[] {
  switch (filter.kind) {
    case "all":
    case "any":
      return filter.of.flatMap(columnsOf);
    case "not":
      return columnsOf(filter.of);
    default:
      return kindOfCondition(filter).columns(filter);
  }
}
