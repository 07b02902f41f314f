import type { NumberCondition } from "../../../filters/index.js";
import { FALSE, TRUE, joined, property } from "../building.js";
import type { Expression } from "../expression.js";
import { isDated, ofSide, withBlanks, type Written } from "./common.js";

export const numberWritten: Written<NumberCondition> = (condition) =>
  withBlanks(condition, numberExpression(condition));

function numberExpression({ column, side, least, most }: NumberCondition): Expression {
  const bound = (op: string, value: string): Expression => ({
    op,
    args: [property(column), { decimal: value }],
  });
  if (least?.isIn === true && most?.isIn === true) {
    const isOne = least.value === most.value;
    const values = (isOne ? [least] : [least, most]).map(({ value }) => ({ decimal: value }));
    return ofSide(side, column, {
      op: isOne ? "=" : "between",
      args: [property(column), ...values],
    });
  }
  const bounds = [
    ...(least === null ? [] : [bound(least.isIn ? ">=" : ">", least.value)]),
    ...(most === null ? [] : [bound(most.isIn ? "<=" : "<", most.value)]),
  ];
  if (bounds.length === 0) {
    return side === "inside" ? isDated(column) : FALSE;
  }
  return ofSide(side, column, joined("and", bounds, TRUE));
}
