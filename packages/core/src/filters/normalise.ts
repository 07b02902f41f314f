import type { DateCondition, Filter, StateCondition } from "./filter.js";

/** A tree without `not`: negation has been pushed to the leaves. */
export type PlainFilter =
  | { readonly kind: "all"; readonly of: readonly PlainFilter[] }
  | { readonly kind: "any"; readonly of: readonly PlainFilter[] }
  | DateCondition
  | NegatableState;

/** A state condition that may be turned round: `is: false` keeps the two other states. */
export type NegatableState = StateCondition & { readonly is: boolean };

/**
 * Pushes negation to the leaves.
 *
 * A negated date condition keeps the other dated values, and then its own blank policy
 * applies: "not on 5 March" leaves blanks out unless it says that it keeps them. `only`
 * keeps the blanks either way.
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
    case "date":
      if (!negated) return filter;
      return { ...filter, side: filter.side === "inside" ? "outside" : "inside" };
    case "state":
      return { ...filter, is: !negated };
  }
}
