import type { DaysCondition, OrderComparison } from "../../../filters/index.js";
import { NO_RECORD, type Query } from "../../query.js";
import { FALSE, TRUE, joined, not, property } from "../building.js";
import type { Expression, Operation } from "../expression.js";
import type { Operands } from "../operands.js";
import { isDated, type ComparedFunction, type Written } from "./common.js";

export const daysWritten: Written<DaysCondition> = daysExpression;

/** `daysBetween(raised, due) <= 30`. */
export const DAYS_BETWEEN: ComparedFunction = {
  compared: (call, comparison, right, operands) => {
    const bound = operands.whole(right);
    return bound === null ? NO_RECORD : daysQuery(call, comparison, [bound, bound], operands);
  },
  between: (call, least, most, operands) => {
    const [from, to] = [operands.whole(least), operands.whole(most)];
    if (from === null || to === null) return NO_RECORD;
    return daysQuery(call, "=", [from, to], operands);
  },
};

function daysExpression({ from, to, side, least, most }: DaysCondition): Expression {
  const days: Expression = { op: "daysBetween", args: [property(from), property(to)] };
  const bound = (op: string, value: number): Expression => ({
    op,
    args: [days, { decimal: String(value) }],
  });
  const bounds = [
    ...(least === null ? [] : [bound(">=", least)]),
    ...(most === null ? [] : [bound("<=", most)]),
  ];
  if (bounds.length === 0) {
    const both = [from, to].map(isDated);
    return side === "inside" ? { op: "and", args: both } : FALSE;
  }
  const within = joined("and", bounds, TRUE);
  return side === "inside" ? within : not(within);
}

function daysQuery(
  call: Operation,
  comparison: OrderComparison,
  [least, most]: readonly [number, number],
  operands: Operands,
): Query {
  const [first, second] = call.args;
  if (first === undefined || second === undefined)
    return operands.syntax(call, "takes two columns");
  const [from, to] = [operands.dates(first), operands.dates(second)];
  if (from === null || to === null) return NO_RECORD;
  const bounds = {
    "=": { least, most },
    "<>": { least, most },
    "<": { least: null, most: least - 1 },
    "<=": { least: null, most },
    ">": { least: most + 1, most: null },
    ">=": { least, most: null },
  }[comparison];
  const side = comparison === "<>" ? ("outside" as const) : ("inside" as const);
  return {
    kind: "value",
    id: "",
    origin: operands.origin(call),
    condition: { kind: "days", from: from.name, to: to.name, side, ...bounds },
  };
}
