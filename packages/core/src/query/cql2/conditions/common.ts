import type { Catalogue, DateCondition, OrderComparison } from "../../../filters/index.js";
import type { Query } from "../../query.js";
import { FALSE, not, property } from "../building.js";
import type { Expression, Operation } from "../expression.js";
import type { Operands } from "../operands.js";

/** A kind of condition as CQL2 writes it; it reads back as a condition that keeps the same records. */
export type Written<C> = (condition: C, columns: Catalogue) => Expression;

/** A function of columns that is compared with a value. */
export interface ComparedFunction {
  /** The query of the function compared with a value; a value that is none leaves a fault. */
  readonly compared: (
    call: Operation,
    comparison: OrderComparison,
    right: Expression,
    operands: Operands,
  ) => Query;
  /** From one value to another, where that is one condition; else it is two comparisons. */
  readonly between?: (
    call: Operation,
    least: Expression,
    most: Expression,
    operands: Operands,
  ) => Query;
}

export function isNull(column: string): Expression {
  return { op: "isNull", args: [property(column)] };
}

export function isDated(column: string): Expression {
  return { op: "dated", args: [property(column)] };
}

export function withBlanks(
  { column, blanks }: { readonly column: string; readonly blanks: DateCondition["blanks"] },
  expression: Expression,
): Expression {
  switch (blanks) {
    case "exclude":
      return expression;
    case "include":
      return { op: "or", args: [expression, isNull(column)] };
    case "only":
      return isNull(column);
  }
}

export function ofSide(
  side: DateCondition["side"],
  column: string,
  described: Expression | null,
): Expression {
  // A condition that describes nothing has all that is no blank on its other side.
  if (described === null) {
    return side === "inside" ? FALSE : isDated(column);
  }
  return side === "inside" ? described : not(described);
}
