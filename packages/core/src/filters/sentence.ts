import { kindOfCondition } from "./conditions/index.js";
import type { Filter } from "./filter.js";

/**
 * A filter in words: each condition with its column, groups in brackets.
 *
 * @example filterInWords(filter) // "raised on 28 February 2025 and (cost at least 500 or task contains “lock”)"
 */
export function filterInWords(filter: Filter): string {
  return inWords(filter, false);
}

function inWords(filter: Filter, isInner: boolean): string {
  switch (filter.kind) {
    case "all":
    case "any": {
      const [only] = filter.of;
      if (only === undefined) return filter.kind === "all" ? "every record" : "no record";
      if (filter.of.length === 1) return inWords(only, isInner);
      const word = filter.kind === "all" ? " and " : " or ";
      const words = filter.of.map((each) => inWords(each, true)).join(word);
      return isInner ? `(${words})` : words;
    }
    case "not":
      return `not ${inWords(filter.of, true)}`;
    default:
      return kindOfCondition(filter).words(filter);
  }
}
