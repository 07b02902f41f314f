import { fault } from "../../faults/index.js";
import type { Catalogue } from "../columns.js";
import { compareDecimals } from "../decimal.js";
import {
  valueHolds,
  withBlanks,
  type BlankPolicy,
  type ConditionKind,
  type Side,
} from "./common.js";
import { FILTER_LIMITS, typeFault } from "./faults.js";
import { caseInWords, cased, formTest, type TextCondition } from "./text.js";

/** A condition on a column of text or numbers: one of some values, or none of them. */
export interface OneOfCondition {
  readonly kind: "oneOf";
  readonly column: string;
  readonly side: Side;
  /** Numbers as {@link Decimal}. */
  readonly values: readonly string[];
  readonly caseSensitive: boolean;
  readonly blanks: BlankPolicy;
}

export const ONE_OF: ConditionKind<OneOfCondition> = {
  columns: ({ column }) => [column],
  faults: ({ column, values }, catalogue) => [
    typeFault(column, ["text", "integer", "decimal"], "column.notText", catalogue),
    values.length > FILTER_LIMITS.values
      ? fault("filter.tooLarge", { what: "values of a list", most: FILTER_LIMITS.values })
      : null,
  ],
  holds: (condition, row, catalogue) =>
    valueHolds(condition, row, (value) => isAmong(value, condition, catalogue)),
  words: (condition) => withBlanks(condition, listInWords(condition)),
};

function isAmong(value: string, condition: OneOfCondition, catalogue: Catalogue): boolean {
  if (catalogue.get(condition.column)?.type !== "text") {
    return condition.values.some((each) => compareDecimals(value, each) === 0);
  }
  const text = cased(value, condition);
  return condition.values.some((each) => cased(each, condition) === text);
}

/**
 * What a condition on strings describes, as a test of strings as they are compared: folded, unless letter case
 * counts. Of many strings it is far quicker than evaluating the condition on each.
 */
export function textTest(condition: TextCondition | OneOfCondition): (cased: string) => boolean {
  if (condition.kind === "text") return formTest(condition);
  const values = new Set(condition.values.map((each) => cased(each, condition)));
  return (text) => values.has(text);
}

function listInWords({ side, values, caseSensitive }: OneOfCondition): string {
  const list = values.map((each) => `“${each}”`).join(", ");
  const isOne = values.length === 1;
  const words = side === "outside" ? (isOne ? "is not" : "none of") : isOne ? "is" : "one of";
  return `${words} ${list === "" ? "nothing" : list}${caseInWords(caseSensitive)}`;
}
