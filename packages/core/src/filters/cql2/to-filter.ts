import { failure, fault, success, type Result } from "../../faults/index.js";
import {
  EVERYTHING,
  NOTHING,
  type DateCondition,
  type Filter,
  type OrderComparison,
} from "../filter.js";
import { checkFilter } from "../check.js";
import { holdsNumbers, type Column } from "../columns.js";
import { patternOf, readPattern } from "../pattern.js";
import {
  COMPARISONS,
  OWN_FUNCTIONS,
  TEMPORAL,
  type Expression,
  type Operation,
  type Temporal,
} from "./expression.js";
import { BLANKS, crossed, isPlainDate, numberFilter } from "./conditions.js";
import { DATE_PARTS, MIRRORED } from "./meanings.js";
import { readCql2Json } from "./read-json.js";
import { DateConditions } from "./date-conditions.js";
import { Operands, type Cql2Context } from "./operands.js";
import { readCql2Text } from "./read-text.js";

export type { Cql2Context } from "./operands.js";

/**
 * Reads a filter written in CQL2, as text or as a parsed document of the JSON form, and checks it
 * against the columns.
 *
 * Dates follow the one rule for dates: a DATE or TIMESTAMP is the span that it names, so
 * `raised <= DATE('2025-02-28')` has all of that day, and T_DURING has the first moment of its
 * interval. `inWindow(raised, 'month-1/now')` takes the notation of windows. Text compared by `=` or
 * LIKE counts letter case unless both sides stand in CASEI.
 *
 * Fails with every fault at once, each with its place: those of {@link readCql2Text},
 * {@link readCql2Json} and {@link checkFilter}, of dates and windows, `filter.word`,
 * `filter.value`.
 *
 * @see OGC 21-065r2
 */
export function readCql2(source: unknown, context: Cql2Context): Result<Filter> {
  const { caller } = context;
  const read =
    typeof source === "string" ? readCql2Text(source, caller) : readCql2Json(source, caller);
  if (!read.ok) return read;
  const operands = new Operands(read.value, context);
  const filter = new Builder(operands).filter(read.value.expression);
  if (operands.faults.length > 0) return failure(...operands.faults);
  const faults = checkFilter(filter, context.columns);
  return faults.length > 0 ? failure(...faults) : success(filter);
}

/** One side of a comparison of texts. */
interface TextSide {
  readonly expression: Expression;
  readonly isFolded: boolean;
}

class Builder {
  readonly #dates: DateConditions;

  constructor(private readonly operands: Operands) {
    this.#dates = new DateConditions(operands);
  }

  filter(expression: Expression): Filter {
    if ("boolean" in expression) return expression.boolean ? EVERYTHING : NOTHING;
    if (!("op" in expression)) {
      return this.operands.syntax(expression, "is no condition");
    }
    const { op, args } = expression;
    switch (op) {
      case "and":
        return { kind: "all", of: args.map((each) => this.filter(each)) };
      case "or":
        return { kind: "any", of: args.map((each) => this.filter(each)) };
      case "not": {
        const [only] = args;
        return only === undefined
          ? this.operands.syntax(expression, "takes one condition")
          : { kind: "not", of: this.filter(only) };
      }
    }
    return this.operands.about(expression, () => this.#condition(expression));
  }

  #condition(expression: Operation): Filter {
    const { op } = expression;
    switch (op) {
      case "between":
        return this.#between(expression);
      case "like":
        return this.#like(expression);
      case "in":
        return this.#among(expression);
      case "isNull":
        return this.#state(expression, "blank");
      case "dated":
      case "unreadable":
        return this.#state(expression, op);
      case "inWindow":
        return this.#dates.inWindow(expression);
    }
    if ((COMPARISONS as readonly string[]).includes(op)) {
      return this.#comparison(expression, op as OrderComparison);
    }
    if ((TEMPORAL as readonly string[]).includes(op)) {
      return this.#dates.temporal(expression, op as Temporal);
    }
    if ((OWN_FUNCTIONS as readonly string[]).includes(op) || op === "casei") {
      return this.operands.syntax(expression, `is a value, which is compared with another`);
    }
    const known = ["and", "or", "not", ...COMPARISONS, "between", "like", "in", "isNull"];
    const all = [...known, ...TEMPORAL, ...OWN_FUNCTIONS, "casei"];
    return this.operands.fault(
      expression,
      fault(
        "filter.word",
        {
          ...this.operands.at(expression),
          word: op,
          what: "an operator that is known here",
          known: all,
        },
        { value: op },
      ),
    );
  }

  #comparison(expression: Operation, comparison: OrderComparison): Filter {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined || expression.args.length > 2) {
      return this.operands.syntax(expression, "compares two sides");
    }
    // A value on the left is turned to the right, so that what is compared comes first.
    if (isValue(left) && !isValue(right)) {
      const turned = { op: MIRRORED[comparison] ?? comparison, args: [right, left] };
      return this.#comparison(turned, MIRRORED[comparison] ?? comparison);
    }
    if ("op" in left && left.op in DATE_PARTS) return this.#dates.datePart(left, comparison, right);
    if ("op" in left && left.op === "year") return this.#dates.year(left, comparison, right);
    if ("op" in left && left.op === "daysBetween") {
      const bound = this.operands.whole(right);
      return bound === null ? NOTHING : this.#dates.days(left, comparison, bound, bound);
    }
    const [first, second] = [side(left), side(right)];
    const column = this.operands.column(first.expression);
    if (column === null) return NOTHING;
    if ("property" in second.expression) return this.#columns(column, comparison, second, first);
    if (column.type === "date") return this.#dates.dateComparison(column, comparison, right);
    if (holdsNumbers(column)) {
      const value = this.operands.decimal(column, right);
      return value === null ? NOTHING : numberFilter(column.name, comparison, value);
    }
    if (column.type === "boolean") return this.#boolean(column, comparison, right, expression);
    return this.#textComparison(column, comparison, first, second, expression);
  }

  #boolean(
    column: Column,
    comparison: OrderComparison,
    right: Expression,
    whole: Expression,
  ): Filter {
    if (!("boolean" in right)) return this.operands.wrongValue(column, right);
    if (comparison !== "=" && comparison !== "<>") return this.#notOrdered(column, whole);
    const side = right.boolean === (comparison === "=") ? "inside" : "outside";
    return { kind: "boolean", column: column.name, side, blanks: BLANKS };
  }

  #notOrdered({ name, type }: Column, whole: Expression): Filter {
    return this.operands.fault(whole, fault("column.notOrdered", { name, type }, { value: name }));
  }

  #columns(column: Column, comparison: OrderComparison, right: TextSide, left: TextSide): Filter {
    const other = this.operands.column(right.expression);
    if (left.isFolded || right.isFolded) {
      return this.operands.syntax(
        left.expression,
        "is compared with a text in CASEI, not with a column",
      );
    }
    if (other === null) return NOTHING;
    return { kind: "columns", left: column.name, comparison, right: other.name };
  }

  #textComparison(
    column: Column,
    comparison: OrderComparison,
    left: TextSide,
    right: TextSide,
    whole: Expression,
  ): Filter {
    if (!("text" in right.expression)) return this.operands.wrongValue(column, right.expression);
    if (comparison !== "=" && comparison !== "<>") return this.#notOrdered(column, whole);
    const letterCase = this.#letterCase(left, right);
    const pattern = patternOf("is", right.expression.text);
    const outside = comparison === "<>";
    return {
      kind: "text",
      column: column.name,
      side: outside ? "outside" : "inside",
      pattern,
      letterCase,
      blanks: BLANKS,
    };
  }

  /** CASEI stands on both sides or on neither: on one it would compare small letters with capitals. */
  #letterCase(left: TextSide, right: TextSide): "exact" | "folded" {
    if (left.isFolded !== right.isFolded) {
      this.operands.syntax(
        left.isFolded ? right.expression : left.expression,
        "stands outside CASEI, and the other side in it, so that the two could never be equal",
      );
    }
    return left.isFolded ? "folded" : "exact";
  }

  #like(expression: Operation): Filter {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined)
      return this.operands.syntax(expression, "compares two sides");
    const [first, second] = [side(left), side(right)];
    const column = this.operands.column(first.expression);
    if (column === null) return NOTHING;
    if (!("text" in second.expression))
      return this.operands.syntax(right, "is no pattern in quotes");
    return {
      kind: "text",
      column: column.name,
      side: "inside",
      pattern: readPattern(second.expression.text),
      letterCase: this.#letterCase(first, second),
      blanks: BLANKS,
    };
  }

  #between(expression: Operation): Filter {
    const [value, least, most] = expression.args;
    if (value === undefined || least === undefined || most === undefined) {
      return this.operands.syntax(expression, "takes a value and two bounds");
    }
    if ("op" in value && value.op === "daysBetween") {
      const [from, to] = [this.operands.whole(least), this.operands.whole(most)];
      return from === null || to === null ? NOTHING : this.#dates.days(value, "=", from, to);
    }
    const from = this.#comparison({ op: ">=", args: [value, least] }, ">=");
    const to = this.#comparison({ op: "<=", args: [value, most] }, "<=");
    if (isPlainDate(from) && isPlainDate(to)) return { ...from, intervals: crossed(from, to) };
    if (from.kind === "number" && to.kind === "number") return { ...from, most: to.most };
    return { kind: "all", of: [from, to] };
  }

  #among(expression: Operation): Filter {
    const [value, list] = expression.args;
    if (value === undefined || list === undefined || !("list" in list)) {
      return this.operands.syntax(expression, "takes a list of values in brackets");
    }
    const subject = side(value);
    if ("op" in subject.expression) {
      const of = list.list.map((each) => this.#comparison({ op: "=", args: [value, each] }, "="));
      return { kind: "any", of };
    }
    const column = this.operands.column(subject.expression);
    if (column === null) return NOTHING;
    if (column.type === "date") {
      const of = list.list.map((each) => this.#dates.dateComparison(column, "=", each));
      const dates = of.filter((each): each is DateCondition => each.kind === "date");
      const [first] = dates;
      if (first === undefined) return NOTHING;
      return { ...first, intervals: dates.flatMap(({ intervals }) => intervals) };
    }
    if (column.type === "boolean") {
      const of = list.list.map((each) => this.#boolean(column, "=", each, expression));
      return { kind: "any", of };
    }
    const values = list.list.flatMap((each) => {
      const item = side(each);
      if (holdsNumbers(column)) return this.operands.decimal(column, each) ?? [];
      this.#letterCase(subject, item);
      if ("text" in item.expression) return [item.expression.text];
      this.operands.wrongValue(column, item.expression);
      return [];
    });
    const letterCase = subject.isFolded ? "folded" : "exact";
    const where = { column: column.name, side: "inside", blanks: BLANKS } as const;
    return { kind: "oneOf", values, letterCase, ...where };
  }

  #state(expression: Operation, state: "dated" | "blank" | "unreadable"): Filter {
    const [only] = expression.args;
    const column = only === undefined ? null : this.operands.column(only);
    return column === null ? NOTHING : { kind: "state", column: column.name, state };
  }
}

function isValue(expression: Expression): boolean {
  const { expression: inside } = side(expression);
  return !("property" in inside) && !("op" in inside);
}

/** An expression without CASEI around it. */
function side(expression: Expression): TextSide {
  if (!("op" in expression) || expression.op !== "casei") return { expression, isFolded: false };
  return { expression: expression.args[0] ?? expression, isFolded: true };
}
