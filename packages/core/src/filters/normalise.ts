import {
  type Condition,
  type OrderComparison,
  type Side,
  type StateCondition,
} from "./conditions/index.js";
import type { Filter } from "./filter.js";

/** A tree without `not`: negation has been pushed to the leaves. */
export type PlainFilter =
  | { readonly kind: "all"; readonly of: readonly PlainFilter[] }
  | { readonly kind: "any"; readonly of: readonly PlainFilter[] }
  | Exclude<Condition, StateCondition>
  | NegatableState;

/** A state condition that may be turned round: `is: false` keeps the two other states. */
export type NegatableState = StateCondition & { readonly is: boolean };

/**
 * Pushes negation to the leaves.
 *
 * A negated condition keeps the other values, and then its own blank policy applies: "not on 5
 * March" leaves blanks out unless it says that it keeps them. `only` keeps the blanks either way.
 */
export function pushNegation(filter: Filter, negated = false): PlainFilter {
  switch (filter.kind) {
    case "not":
      return pushNegation(filter.of, !negated);
    case "all":
    case "any": {
      const kind = negated === (filter.kind === "all") ? "any" : "all";
      return { kind, of: filter.of.map((part) => pushNegation(part, negated)) };
    }
    case "state":
      return { ...filter, is: !negated };
    case "partial": {
      const { dates } = filter;
      return negated ? { ...filter, dates: { ...dates, side: otherSide(dates.side) } } : filter;
    }
    case "columns":
      return negated ? { ...filter, comparison: OPPOSITE[filter.comparison] } : filter;
    default:
      return negated ? { ...filter, side: otherSide(filter.side) } : filter;
  }
}

function otherSide(side: Side): Side {
  return side === "inside" ? "outside" : "inside";
}

const OPPOSITE: Readonly<Record<OrderComparison, OrderComparison>> = {
  "=": "<>",
  "<>": "=",
  "<": ">=",
  ">=": "<",
  ">": "<=",
  "<=": ">",
};
