import { compareDecimals, type Decimal } from "../decimal.js";
import {
  valueHolds,
  withBlanks,
  type BlankPolicy,
  type ConditionKind,
  type Side,
} from "./common.js";
import { typeFault } from "./faults.js";

/** One bound of a range of numbers. */
export interface NumberBound {
  readonly value: Decimal;
  /** Whether the bound itself is in. */
  readonly isIn: boolean;
}

/** A condition on a column of numbers: those within a range, or the others. */
export interface NumberCondition {
  readonly kind: "number";
  readonly column: string;
  readonly side: Side;
  readonly least: NumberBound | null;
  readonly most: NumberBound | null;
  readonly blanks: BlankPolicy;
}

export const NUMBER: ConditionKind<NumberCondition> = {
  columns: ({ column }) => [column],
  faults: ({ column }, catalogue) => [
    typeFault(column, ["integer", "decimal"], "column.notNumber", catalogue),
  ],
  holds: (condition, row) => valueHolds(condition, row, (value) => isWithin(value, condition)),
  words: (condition) => withBlanks(condition, rangeInWords(condition)),
};

function isWithin(value: Decimal, { least, most }: NumberCondition): boolean {
  const toLeast = least === null ? 1 : compareDecimals(value, least.value);
  const toMost = most === null ? -1 : compareDecimals(value, most.value);
  return (
    (toLeast > 0 || (toLeast === 0 && least?.isIn === true)) &&
    (toMost < 0 || (toMost === 0 && most?.isIn === true))
  );
}

function rangeInWords({ side, least, most }: NumberCondition): string {
  const not = side === "outside" ? "not " : "";
  if (least === null && most === null) return side === "outside" ? "of no number" : "of any number";
  if (least !== null && most !== null && least.value === most.value && least.isIn && most.isIn) {
    return `${not}${least.value}`;
  }
  const from = least && `${least.isIn ? "at least" : "above"} ${least.value}`;
  const to = most && `${most.isIn ? "at most" : "below"} ${most.value}`;
  const both = [from, to].filter((each) => each !== null).join(" and ");
  return not === "" ? both : `not ${both}`;
}
