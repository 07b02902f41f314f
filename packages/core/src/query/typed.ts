import { success, type Result } from "../faults/index.js";
import {
  decimalOf,
  patternOf,
  patternText,
  plainMatch,
  type NumberCondition,
} from "../filters/index.js";
import { partText } from "../windows/index.js";
import { cql2Text, readCql2Query, type Cql2Reading, type Expression } from "./cql2/index.js";
import type { DateQuery, FixedCondition, Query } from "./query.js";
import { canonicalTest } from "./words.js";

/** How one column is compared in an editor; each can be negated. */
export type TypedComparison =
  | "on"
  | "among"
  | "is"
  | "atLeast"
  | "above"
  | "atMost"
  | "below"
  | "contains"
  | "begins"
  | "ends"
  | "yes"
  | "dated"
  | "blank"
  | "unreadable";

/** A condition on one column as an editor has it: a comparison, and what is typed for it. */
export interface TypedCondition {
  readonly column: string;
  readonly comparison: TypedComparison;
  /** One window, number or text; of `among` any number of strings; none where none is compared. */
  readonly values: readonly string[];
  readonly isNegated: boolean;
  /** Of strings whether letter case counts. */
  readonly caseSensitive?: boolean;
}

/** A part of a query as an editor has it; null for what no editor of one column knows. */
export function typedCondition(part: Query): TypedCondition | null {
  switch (part.kind) {
    case "not": {
      const inner = typedCondition(part.of);
      return inner === null ? null : { ...inner, isNegated: !inner.isNegated };
    }
    case "date":
      return typedDates(part);
    case "value":
    case "derived":
      return typedValues(part.condition);
    default:
      return null;
  }
}

function typedDates({ column, tests, blanks, named }: DateQuery): TypedCondition | null {
  const plain = { column, isNegated: false } as const;
  if (blanks === "only") return { ...plain, comparison: "blank", values: [] };
  const [test, other] = tests;
  if (test === undefined || other !== undefined || blanks !== "exclude") return null;
  if (named !== undefined) return { ...plain, comparison: "on", values: [named] };
  const isNegated = test.kind !== "between" && test.comparison === "notOn";
  const window =
    test.kind === "part" && isNegated
      ? partText(test.part.base, test.part.shifts)
      : canonicalTest(test);
  return { ...plain, comparison: "on", values: [window], isNegated };
}

function typedValues(condition: FixedCondition): TypedCondition | null {
  if (!("column" in condition)) return null;
  const { column } = condition;
  const isOutside = "side" in condition && condition.side === "outside";
  const plain = { column, isNegated: isOutside } as const;
  if ("blanks" in condition && condition.blanks !== "exclude") {
    return condition.blanks === "only" ? { ...plain, comparison: "blank", values: [] } : null;
  }
  switch (condition.kind) {
    case "state":
      return { ...plain, comparison: condition.state, values: [] };
    case "boolean":
      return { ...plain, comparison: "yes", values: [] };
    case "oneOf": {
      const { values, caseSensitive } = condition;
      return { ...plain, comparison: "among", values, caseSensitive };
    }
    case "text": {
      const found = plainMatch(condition.pattern);
      if (found === null) return null;
      const { caseSensitive } = condition;
      const comparison = found.match === "is" ? "among" : found.match;
      return { ...plain, comparison, values: [found.text], caseSensitive };
    }
    case "number": {
      const bound = typedBound(condition);
      return bound === null ? null : { ...plain, ...bound };
    }
  }
}

function typedBound({
  least,
  most,
}: NumberCondition): Pick<TypedCondition, "comparison" | "values"> | null {
  if (least !== null && most !== null) {
    const isOne = least.isIn && most.isIn && least.value === most.value;
    return isOne ? { comparison: "is", values: [least.value] } : null;
  }
  if (least !== null) {
    return { comparison: least.isIn ? "atLeast" : "above", values: [least.value] };
  }
  return most === null
    ? null
    : { comparison: most.isIn ? "atMost" : "below", values: [most.value] };
}

/**
 * What an editor has as a part of a query; null where nothing is typed yet. Fails as
 * {@link readCql2Query} where what is typed does not fit the column.
 */
export function queryOfTyped(typed: TypedCondition, reading: Cql2Reading): Result<Query | null> {
  const expression = typedExpression(typed);
  return expression === null ? success(null) : readCql2Query(cql2Text(expression), reading);
}

/** The same as an expression of CQL2, whether it fits its column or not. */
export function typedExpression(typed: TypedCondition): Expression | null {
  const { column, comparison, isNegated } = typed;
  // No is written as such, and not as what is not yes.
  if (comparison === "yes") return yesExpression(column, !isNegated);
  const expression = expressionOf(typed);
  return expression !== null && isNegated ? { op: "not", args: [expression] } : expression;
}

function yesExpression(column: string, value: boolean): Expression {
  return { op: "=", args: [{ property: column }, { boolean: value }] };
}

const OPERATORS = { is: "=", atLeast: ">=", above: ">", atMost: "<=", below: "<" } as const;

function expressionOf({
  column,
  comparison,
  values,
  caseSensitive,
}: TypedCondition): Expression | null {
  const subject: Expression = { property: column };
  const cased = (expression: Expression): Expression =>
    caseSensitive === false ? { op: "casei", args: [expression] } : expression;
  const [first = ""] = values;
  const typed = first.trim();
  switch (comparison) {
    case "on":
      return typed === "" ? null : { op: "inWindow", args: [subject, { text: typed }] };
    case "among": {
      const list = values.map((text) => cased({ text }));
      return list.length === 0 ? null : { op: "in", args: [cased(subject), { list }] };
    }
    case "is":
    case "atLeast":
    case "above":
    case "atMost":
    case "below": {
      if (typed === "") return null;
      // What is no number stays a value, and never becomes a part of the condition.
      const object = decimalOf(typed) === null ? { text: typed } : { decimal: typed };
      return { op: OPERATORS[comparison], args: [subject, object] };
    }
    case "contains":
    case "begins":
    case "ends": {
      if (first === "") return null;
      const text = patternText(patternOf(comparison, first));
      return { op: "like", args: [cased(subject), cased({ text })] };
    }
    case "yes":
      return yesExpression(column, true);
    case "blank":
      return { op: "isNull", args: [subject] };
    case "dated":
    case "unreadable":
      return { op: comparison, args: [subject] };
  }
}
