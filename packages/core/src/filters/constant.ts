import { type Row } from "./conditions/index.js";
import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import type { Catalogue } from "./columns.js";
import { columnsOf } from "./columns-of.js";
import { evaluate } from "./evaluate.js";
import { EVERYTHING, NOTHING, isEverything, isNothing, type Filter } from "./filter.js";
import { pushNegation, type PlainFilter } from "./normalise.js";

/**
 * A filter on records of which some cells are known and the same in all of them, such as the date
 * of the table that they lie in: what those cells decide is decided, and the rest is left.
 * {@link isNothing} recognises a filter that keeps no such record.
 *
 * Fails with `column.constant` for a condition that compares such a column with another.
 */
export function withConstants(filter: Filter, cells: Row, columns: Catalogue): Result<Filter> {
  const faults: Fault[] = [];
  const decided = decide(pushNegation(filter), cells, columns, faults);
  return faults.length > 0 ? failure(...faults) : success(decided);
}

function decide(filter: PlainFilter, cells: Row, columns: Catalogue, faults: Fault[]): Filter {
  if (filter.kind === "all" || filter.kind === "any") {
    const { kind } = filter;
    const [decides, isNeutral] =
      kind === "all" ? ([isNothing, isEverything] as const) : ([isEverything, isNothing] as const);
    const parts = filter.of.map((part) => decide(part, cells, columns, faults));
    const found = parts.find(decides);
    if (found !== undefined) return found;
    const remaining = parts.filter((part) => !isNeutral(part));
    const [only] = remaining;
    return only !== undefined && remaining.length === 1 ? only : { kind, of: remaining };
  }
  const condition = plainly(filter);
  const spoken = columnsOf(condition);
  const known = spoken.filter((name) => cells[name] !== undefined);
  if (known.length === 0) return condition;
  if (known.length < spoken.length) {
    const [column = ""] = known;
    faults.push(fault("column.constant", { column }, { value: column }));
    return NOTHING;
  }
  return evaluate(condition, cells, columns) ? EVERYTHING : NOTHING;
}

/** A leaf of a tree whose negation was pushed down, as a filter of its own. */
function plainly(leaf: Exclude<PlainFilter, { readonly kind: "all" | "any" }>): Filter {
  if (leaf.kind !== "state") return leaf;
  const { is, ...state } = leaf;
  return is ? state : { kind: "not", of: state };
}
