import type { Expression } from "./expression.js";

export const TRUE: Expression = { boolean: true };
export const FALSE: Expression = { boolean: false };

/** Conditions of which all, or any, hold; one alone is itself. */
export function joined(
  op: "and" | "or",
  of: readonly Expression[],
  ofNone: Expression,
): Expression {
  const [only] = of;
  if (only === undefined) return ofNone;
  return of.length === 1 ? only : { op, args: of };
}

/** A column. */
export function property(name: string): Expression {
  return { property: name };
}

export function not(expression: Expression): Expression {
  return { op: "not", args: [expression] };
}
