import type { Catalogue } from "./columns.js";
import { kindOfCondition, type Row } from "./conditions/index.js";
import type { Filter } from "./filter.js";
import { pushNegation, type PlainFilter } from "./normalise.js";

/**
 * Whether a record satisfies a filter: the plain meaning of the tree, against which every
 * compiled query is held. Throws on a column that the catalogue lacks; check the tree first.
 */
export function evaluate(filter: Filter, row: Row, catalogue: Catalogue): boolean {
  return holds(pushNegation(filter), row, catalogue);
}

function holds(filter: PlainFilter, row: Row, catalogue: Catalogue): boolean {
  switch (filter.kind) {
    case "all":
      return filter.of.every((part) => holds(part, row, catalogue));
    case "any":
      return filter.of.some((part) => holds(part, row, catalogue));
    case "state":
      return kindOfCondition(filter).holds(filter, row, catalogue) === filter.is;
    default:
      return kindOfCondition(filter).holds(filter, row, catalogue);
  }
}
