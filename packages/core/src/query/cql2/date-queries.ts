import { fault, success } from "../../faults/index.js";
import type { Column, OrderComparison, Relation } from "../../filters/index.js";
import { readWindow, timeOfDayIn } from "../../windows/index.js";
import {
  NO_RECORD,
  dateTest,
  periodTest,
  type DateQuery,
  type DateTest,
  type Query,
  type WrittenInterval,
} from "../query.js";
import { type Expression, type Operation, type Temporal } from "./expression.js";
import {
  DATE_COMPARISON,
  MIRROR,
  TEMPORAL_COMPARISON,
  TEMPORAL_ORDER,
  TEMPORAL_RELATIONS,
} from "./meanings.js";
import { type Operands } from "./operands.js";
import { shown } from "./read-text.js";

type DateColumn = Extract<Column, { readonly type: "date" }>;

/** Makes the conditions on dates: comparisons, windows, periods, parts of a date, days between. */
export class DateQueries {
  constructor(private readonly operands: Operands) {}

  inWindow(expression: Operation): Query {
    const [subject, written] = expression.args;
    if (subject === undefined || written === undefined || !("text" in written)) {
      return this.operands.syntax(
        expression,
        "takes a column and a window, such as inWindow(raised, 'month-1/now')",
      );
    }
    const column = this.operands.dates(subject);
    if (column === null) return NO_RECORD;
    const named = this.operands.context.named?.get(written.text.trim().toLowerCase());
    const read =
      named === undefined
        ? this.operands.asMeant(written.text, (text) => readWindow(text, column.name))
        : success({ window: named, notices: [] });
    if (!read.ok) return this.operands.failed(written, read.faults);
    const { window, notices } = read.value;
    const finer = column.kind === "date" ? timeOfDayIn(window) : null;
    if (finer !== null) {
      const facts = { name: column.name, text: finer };
      return this.operands.fault(written, fault("column.finerThanDay", facts));
    }
    const dates = {
      ...datesQuery(this.operands, written, column, [dateTest("on", window)]),
      notices,
    };
    return named === undefined ? dates : { ...dates, named: written.text.trim() };
  }

  dateComparison(column: DateColumn, comparison: OrderComparison, right: Expression): Query {
    const test = this.#test(DATE_COMPARISON[comparison], right);
    return test === null ? NO_RECORD : datesQuery(this.operands, right, column, [test]);
  }

  /** A column that is one of several written dates. */
  among(column: DateColumn, list: readonly Expression[], whole: Expression): Query {
    const tests = list.flatMap((each) => this.#test("on", each) ?? []);
    return datesQuery(this.operands, whole, column, tests);
  }

  between(column: DateColumn, least: Expression, most: Expression): Query {
    const [from, to] = [this.#test("from", least), this.#test("to", most)];
    if (from?.kind !== "part" || to?.kind !== "part") return NO_RECORD;
    return datesQuery(this.operands, least, column, [periodTest(from.part, to.part)]);
  }

  temporal(expression: Operation, op: Temporal): Query {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined || expression.args.length > 2) {
      return this.operands.syntax(expression, "takes two sides");
    }
    const relations = TEMPORAL_RELATIONS[op];
    if (isSpan(left)) return this.#overlap(left, relations, right);
    if (isSpan(right)) {
      return this.#overlap(
        right,
        relations.map((each) => MIRROR[each]),
        left,
      );
    }
    if (!("property" in left)) {
      if (!("property" in right)) return this.operands.syntax(expression, "speaks of no column");
      // "Before X" said of X is "after" said of the column.
      const mirrored = { t_after: "t_before", t_before: "t_after" } as const;
      const turned = op in mirrored ? mirrored[op as keyof typeof mirrored] : op;
      return this.temporal({ op: turned, args: [right, left] }, turned);
    }
    const column = this.operands.dates(left);
    if (column === null) return NO_RECORD;
    if ("property" in right) {
      const other = this.operands.dates(right);
      const comparison = TEMPORAL_ORDER[op];
      if (other === null || comparison === undefined) return this.#onlySpans(expression, op);
      return {
        kind: "value",
        id: "",
        origin: this.operands.origin(expression),
        condition: { kind: "columns", left: column.name, comparison, right: other.name },
      };
    }
    const comparison = TEMPORAL_COMPARISON[op];
    if (comparison === undefined) return this.#onlySpans(expression, op);
    if (!("interval" in right)) {
      const test = this.#test(comparison, right);
      return test === null ? NO_RECORD : datesQuery(this.operands, expression, column, [test]);
    }
    const interval = this.operands.interval(right);
    if (interval === null) return NO_RECORD;
    const { start, end } = interval;
    switch (comparison) {
      case "after":
      case "before": {
        // Beyond an end that is open there is nothing.
        const part = comparison === "after" ? end : start;
        const tests: readonly DateTest[] =
          part === null ? [] : [{ kind: "part", comparison, part }];
        return datesQuery(this.operands, expression, column, tests);
      }
      default: {
        const within = datesQuery(this.operands, expression, column, [periodTest(start, end)]);
        return comparison === "notOn" ? { kind: "not", of: within } : within;
      }
    }
  }

  #onlySpans(expression: Expression, op: Temporal): Query {
    const reason = `compares intervals: say ${shown(op)}(INTERVAL(start, end), …) with the columns of its two ends`;
    return this.operands.syntax(expression, reason);
  }

  #overlap(span: Expression, relations: readonly Relation[], other: Expression): Query {
    if (!("interval" in span)) return NO_RECORD;
    const [first, second] = span.interval;
    const openStart = "op" in first && first.op === "openStart";
    const openEnd = !("op" in second && second.op === "closedEnd");
    const [from, to] = [this.operands.dates(inner(first)), this.operands.dates(inner(second))];
    const interval = "interval" in other ? this.operands.interval(other) : this.#oneDate(other);
    if (from === null || to === null || interval === null) return NO_RECORD;
    return {
      kind: "overlap",
      id: "",
      origin: this.operands.origin(other),
      start: from.name,
      end: to.name,
      side: "inside",
      relations,
      interval,
      openStart,
      openEnd,
      ...this.operands.changesDaily,
    };
  }

  #oneDate(expression: Expression): WrittenInterval | null {
    const part = this.operands.written(expression);
    return part === null ? null : { start: part, end: part };
  }

  #test(
    comparison: Extract<DateTest, { readonly kind: "part" }>["comparison"],
    written: Expression,
  ): DateTest | null {
    const part = this.operands.written(written);
    return part === null ? null : { kind: "part", comparison, part };
  }
}

/** A condition on a column of dates that leaves blanks out. */
export function datesQuery(
  operands: Operands,
  expression: Expression,
  { name }: DateColumn,
  tests: readonly DateTest[],
): DateQuery {
  const origin = operands.origin(expression);
  return {
    ...{ kind: "date", id: "", origin, column: name, tests, blanks: "exclude", notices: [] },
    ...operands.changesDaily,
  };
}

/** A period between two columns. */
function isSpan(expression: Expression): boolean {
  return "interval" in expression && expression.interval.every((each) => "property" in inner(each));
}

function inner(expression: Expression): Expression {
  if (!("op" in expression)) return expression;
  const marks = ["openStart", "closedEnd"];
  return marks.includes(expression.op) ? (expression.args[0] ?? expression) : expression;
}
