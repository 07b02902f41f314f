import { fault, type Fault } from "../faults/index.js";
import type { Catalogue } from "./columns.js";
import { FILTER_LIMITS, kindOfCondition } from "./conditions/index.js";
import type { Filter } from "./filter.js";

/**
 * Every fault of a tree against the columns that are known, in the order of the tree.
 *
 * Codes: `column.unknown`; `column.notDate`, `column.notNumber`, `column.notText`,
 * `column.notBoolean` and `column.otherType` for comparisons that could never hold; `column.finerThanDay` (a column of days
 * compared with an edge inside a day, which could only be rounded by a guess);
 * `column.noState`; `filter.tooLarge` beyond {@link FILTER_LIMITS}.
 */
export function checkFilter(filter: Filter, catalogue: Catalogue): readonly Fault[] {
  const large = sizeFault(filter);
  return large === null ? faultsOf(filter, catalogue) : [large];
}

function faultsOf(filter: Filter, catalogue: Catalogue): readonly Fault[] {
  switch (filter.kind) {
    case "all":
    case "any":
      return filter.of.flatMap((part) => faultsOf(part, catalogue));
    case "not":
      return faultsOf(filter.of, catalogue);
    default:
      return kindOfCondition(filter)
        .faults(filter, catalogue)
        .filter((found) => found !== null);
  }
}

function sizeFault(filter: Filter): Fault | null {
  const { conditions, depth } = FILTER_LIMITS;
  let found = 0;
  const isDeeper = (each: Filter, remaining: number): boolean => {
    if (remaining === 0) return true;
    found++;
    if (found > conditions) return false;
    if (each.kind === "not") return isDeeper(each.of, remaining - 1);
    if (each.kind !== "all" && each.kind !== "any") return false;
    return each.of.some((part) => isDeeper(part, remaining - 1));
  };
  if (isDeeper(filter, depth)) return fault("filter.tooLarge", { what: "levels", most: depth });
  return found > conditions
    ? fault("filter.tooLarge", { what: "conditions", most: conditions })
    : null;
}
