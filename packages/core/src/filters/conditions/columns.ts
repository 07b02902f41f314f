import { fault, type Fault } from "../../faults/index.js";
import { columnFault, holdsNumbers, type Catalogue, type Column } from "../columns.js";
import { compareDecimals } from "../decimal.js";
import { cellOf, filledOf, msOf, stateOf, type ConditionKind, type Row } from "./common.js";
import { otherType, pairFaults } from "./faults.js";

export const ORDER_COMPARISONS = ["=", "<>", "<", "<=", ">", ">="] as const;
export type OrderComparison = (typeof ORDER_COMPARISONS)[number];

/** A comparison of two columns of one type, at the finest they hold; strings only for being equal. */
export interface ColumnsCondition {
  readonly kind: "columns";
  readonly left: string;
  readonly comparison: OrderComparison;
  readonly right: string;
}

export const COLUMNS: ConditionKind<ColumnsCondition> = {
  columns: ({ left, right }) => [left, right],
  faults: columnsFaults,
  holds: columnsHold,
  words: ({ left, comparison, right }) => `${left} ${ORDER_WORDS[comparison]} ${right}`,
};

function columnsFaults(
  { left, comparison, right }: ColumnsCondition,
  catalogue: Catalogue,
): readonly (Fault | null)[] {
  const faults = [left, right].flatMap((name) => columnFault(name, catalogue) ?? []);
  if (faults.length > 0) return faults;
  const [a, b] = [catalogue.get(left), catalogue.get(right)];
  if (a?.type === "date")
    return b?.type === "date"
      ? pairFaults(left, right, catalogue)
      : [otherType(left, right, catalogue)];
  if (a?.type !== b?.type && !(holdsNumbers(a) && holdsNumbers(b))) {
    return [otherType(left, right, catalogue)];
  }
  if (comparison === "=" || comparison === "<>") return [];
  if (a?.type !== "text" && a?.type !== "boolean") return [];
  return [fault("column.notOrdered", { name: left, type: a.type }, { value: left })];
}

function columnsHold(
  { left, comparison, right }: ColumnsCondition,
  row: Row,
  catalogue: Catalogue,
) {
  const [first, second] = [cellOf(row, left), cellOf(row, right)];
  if (stateOf(first) !== "dated" || stateOf(second) !== "dated") return false;
  const type: Column["type"] | undefined = catalogue.get(left)?.type;
  const order =
    type === "date"
      ? msOf(first) - msOf(second)
      : type === "text" || type === "boolean"
        ? compareTexts(filledOf(first), filledOf(second))
        : compareDecimals(filledOf(first), filledOf(second));
  return isOrdered(order, comparison);
}

/** Only whether they are the same counts: strings, and yes and no, have no order here. */
function compareTexts(a: string, b: string): number {
  return a === b ? 0 : 1;
}

function isOrdered(order: number, comparison: OrderComparison): boolean {
  switch (comparison) {
    case "=":
      return order === 0;
    case "<>":
      return order !== 0;
    case "<":
      return order < 0;
    case "<=":
      return order <= 0;
    case ">":
      return order > 0;
    case ">=":
      return order >= 0;
  }
}

const ORDER_WORDS: Readonly<Record<ColumnsCondition["comparison"], string>> = {
  "=": "the same as",
  "<>": "other than",
  "<": "below",
  "<=": "at most",
  ">": "above",
  ">=": "at least",
};
