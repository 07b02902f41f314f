import {
  pushNegation,
  type Catalogue,
  type Filter,
  type PlainFilter,
} from "../../filters/index.js";
import { FALSE, TRUE, joined, not } from "./building.js";
import { writtenOf } from "./conditions/index.js";
import type { Expression } from "./expression.js";

/**
 * A filter as an expression of CQL2 that reads back as a filter which keeps the same records.
 *
 * Windows are written as the dates that they came to, so what was written to move moves no more.
 */
export function cql2Of(filter: Filter, columns: Catalogue): Expression {
  return expressionOf(pushNegation(filter), columns);
}

function expressionOf(filter: PlainFilter, columns: Catalogue): Expression {
  switch (filter.kind) {
    case "all":
    case "any": {
      const of = filter.of.map((each) => expressionOf(each, columns));
      return filter.kind === "all" ? joined("and", of, TRUE) : joined("or", of, FALSE);
    }
    case "state": {
      const found = writtenOf(filter)(filter, columns);
      return filter.is ? found : not(found);
    }
    default:
      return writtenOf(filter)(filter, columns);
  }
}
