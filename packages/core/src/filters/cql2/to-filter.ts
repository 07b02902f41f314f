import { failure, fault, placed, success, type Fault, type Result } from "../../faults/index.js";
import { readIsoDate, type WrittenDate } from "../../reading/index.js";
import {
  ISO_CALENDAR,
  readWindow,
  resolvePart,
  resolveWindow,
  timeOfDayIn,
  type Recurring,
  type WindowContext,
} from "../../windows/index.js";
import type { Interval, Span } from "../../calendar/index.js";
import { columnFault, holdsNumbers, type Catalogue, type Column } from "../columns.js";
import { checkFilter } from "../check.js";
import { decimalOf } from "../decimal.js";
import {
  EVERYTHING,
  NOTHING,
  type DateCondition,
  type Filter,
  type OrderComparison,
  type OverlapCondition,
} from "../filter.js";
import { patternOf, readPattern } from "../pattern.js";
import { type Relation } from "../relations.js";
import {
  COMPARISONS,
  OWN_FUNCTIONS,
  TEMPORAL,
  type Expression,
  type Operation,
  type Temporal,
} from "./expression.js";
import { BLANKS, crossed, dateFilter, isPlainDate, numberFilter } from "./conditions.js";
import {
  DATE_COMPARISON,
  DATE_PARTS,
  MIRROR,
  MIRRORED,
  TEMPORAL_COMPARISON,
  TEMPORAL_ORDER,
  TEMPORAL_RELATIONS,
} from "./meanings.js";
import { readCql2Json } from "./read-json.js";
import { readCql2Text, shown, type ReadExpression } from "./read-text.js";

/** What an expression is understood against. */
export interface Cql2Context {
  readonly window: WindowContext;
  readonly columns: Catalogue;
}

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
  const read = typeof source === "string" ? readCql2Text(source) : readCql2Json(source);
  if (!read.ok) return read;
  const builder = new Builder(read.value, context);
  const filter = builder.filter(read.value.expression);
  if (builder.faults.length > 0) return failure(...builder.faults);
  const faults = checkFilter(filter, context.columns);
  return faults.length > 0 ? failure(...faults) : success(filter);
}

/** One side of a comparison of texts. */
interface TextSide {
  readonly expression: Expression;
  readonly isFolded: boolean;
}

class Builder {
  readonly faults: Fault[] = [];

  constructor(
    private readonly read: ReadExpression,
    private readonly context: Cql2Context,
  ) {}

  filter(expression: Expression): Filter {
    if ("boolean" in expression) return expression.boolean ? EVERYTHING : NOTHING;
    if (!("op" in expression)) {
      return this.#syntax(expression, "is no condition");
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
          ? this.#syntax(expression, "takes one condition")
          : { kind: "not", of: this.filter(only) };
      }
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
        return this.#inWindow(expression);
    }
    if ((COMPARISONS as readonly string[]).includes(op)) {
      return this.#comparison(expression, op as OrderComparison);
    }
    if ((TEMPORAL as readonly string[]).includes(op)) {
      return this.#temporal(expression, op as Temporal);
    }
    if ((OWN_FUNCTIONS as readonly string[]).includes(op) || op === "casei") {
      return this.#syntax(expression, `is a value, which is compared with another`);
    }
    const known = ["and", "or", "not", ...COMPARISONS, "between", "like", "in", "isNull"];
    const all = [...known, ...TEMPORAL, ...OWN_FUNCTIONS, "casei"];
    return this.#fault(
      expression,
      fault(
        "filter.word",
        { ...this.#at(expression), word: op, what: "an operator that is known here", known: all },
        { value: op },
      ),
    );
  }

  #comparison(expression: Operation, comparison: OrderComparison): Filter {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined || expression.args.length > 2) {
      return this.#syntax(expression, "compares two sides");
    }
    // A value on the left is turned to the right, so that what is compared comes first.
    if (isValue(left) && !isValue(right)) {
      const turned = { op: MIRRORED[comparison] ?? comparison, args: [right, left] };
      return this.#comparison(turned, MIRRORED[comparison] ?? comparison);
    }
    if ("op" in left && left.op in DATE_PARTS) return this.#datePart(left, comparison, right);
    if ("op" in left && left.op === "year") return this.#year(left, comparison, right);
    if ("op" in left && left.op === "daysBetween") {
      const bound = this.#whole(right);
      return bound === null ? NOTHING : this.#days(left, comparison, bound, bound);
    }
    const [first, second] = [side(left), side(right)];
    const column = this.#column(first.expression);
    if (column === null) return NOTHING;
    if ("property" in second.expression) return this.#columns(column, comparison, second, first);
    if (column.type === "date") return this.#dateComparison(column, comparison, right);
    if (holdsNumbers(column)) {
      const value = this.#decimal(column, right);
      return value === null ? NOTHING : numberFilter(column.name, comparison, value);
    }
    return this.#textComparison(column, comparison, first, second, expression);
  }

  #columns(column: Column, comparison: OrderComparison, right: TextSide, left: TextSide): Filter {
    const other = this.#column(right.expression);
    if (left.isFolded || right.isFolded) {
      return this.#syntax(left.expression, "is compared with a text in CASEI, not with a column");
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
    if (!("text" in right.expression)) return this.#wrongValue(column, right.expression);
    if (comparison !== "=" && comparison !== "<>") {
      const facts = { name: column.name, type: column.type };
      return this.#fault(whole, fault("column.notOrdered", facts, { value: column.name }));
    }
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
      this.#syntax(
        left.isFolded ? right.expression : left.expression,
        "stands outside CASEI, and the other side in it, so that the two could never be equal",
      );
    }
    return left.isFolded ? "folded" : "exact";
  }

  #like(expression: Operation): Filter {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined)
      return this.#syntax(expression, "compares two sides");
    const [first, second] = [side(left), side(right)];
    const column = this.#column(first.expression);
    if (column === null) return NOTHING;
    if (!("text" in second.expression)) return this.#syntax(right, "is no pattern in quotes");
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
      return this.#syntax(expression, "takes a value and two bounds");
    }
    if ("op" in value && value.op === "daysBetween") {
      const [from, to] = [this.#whole(least), this.#whole(most)];
      return from === null || to === null ? NOTHING : this.#days(value, "=", from, to);
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
      return this.#syntax(expression, "takes a list of values in brackets");
    }
    const subject = side(value);
    if ("op" in subject.expression) {
      const of = list.list.map((each) => this.#comparison({ op: "=", args: [value, each] }, "="));
      return { kind: "any", of };
    }
    const column = this.#column(subject.expression);
    if (column === null) return NOTHING;
    if (column.type === "date") {
      const of = list.list.map((each) => this.#dateComparison(column, "=", each));
      const dates = of.filter((each): each is DateCondition => each.kind === "date");
      const [first] = dates;
      if (first === undefined) return NOTHING;
      return { ...first, intervals: dates.flatMap(({ intervals }) => intervals) };
    }
    const values = list.list.flatMap((each) => {
      const item = side(each);
      if (holdsNumbers(column)) return this.#decimal(column, each) ?? [];
      this.#letterCase(subject, item);
      if ("text" in item.expression) return [item.expression.text];
      this.#wrongValue(column, item.expression);
      return [];
    });
    const letterCase = subject.isFolded ? "folded" : "exact";
    const where = { column: column.name, side: "inside", blanks: BLANKS } as const;
    return { kind: "oneOf", values, letterCase, ...where };
  }

  #state(expression: Operation, state: "dated" | "blank" | "unreadable"): Filter {
    const [only] = expression.args;
    const column = only === undefined ? null : this.#column(only);
    return column === null ? NOTHING : { kind: "state", column: column.name, state };
  }

  #inWindow(expression: Operation): Filter {
    const [subject, written] = expression.args;
    if (subject === undefined || written === undefined || !("text" in written)) {
      return this.#syntax(
        expression,
        "takes a column and a window, such as inWindow(raised, 'month-1/now')",
      );
    }
    const column = this.#dates(subject);
    if (column === null) return NOTHING;
    const { window } = this.context;
    const read = readWindow(written.text);
    if (!read.ok) return this.#failed(written, read.faults);
    const finer = column.kind === "date" ? timeOfDayIn(read.value.window) : null;
    if (finer !== null) {
      const facts = { name: column.name, text: finer };
      return this.#fault(written, fault("column.finerThanDay", facts));
    }
    const wholeDays = column.kind === "date";
    const resolved = resolveWindow(read.value.window, { ...window, wholeDays });
    if (!resolved.ok) return this.#failed(written, resolved.faults);
    const { weekStart, firstWeekDays } = window.calendar ?? ISO_CALENDAR;
    return {
      kind: "date",
      column: column.name,
      side: "inside",
      intervals: resolved.value.intervals,
      recurring: resolved.value.recurring.map(({ interval, recurring: rules }) => ({
        interval,
        rules,
        weeks: { weekStart, firstWeekDays },
        zone: window.zone.id,
      })),
      blanks: BLANKS,
    };
  }

  #dateComparison(column: Column, comparison: OrderComparison, right: Expression): Filter {
    const span = this.#span(right);
    if (span === null) return NOTHING;
    const compared = DATE_COMPARISON[comparison];
    return dateFilter(column.name, compared, span);
  }

  #temporal(expression: Operation, op: Temporal): Filter {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined || expression.args.length > 2) {
      return this.#syntax(expression, "takes two sides");
    }
    const relations = TEMPORAL_RELATIONS[op];
    if (isStretch(left)) return this.#overlap(left, relations, right);
    if (isStretch(right)) {
      return this.#overlap(
        right,
        relations.map((each) => MIRROR[each]),
        left,
      );
    }
    if (!("property" in left)) {
      if (!("property" in right)) return this.#syntax(expression, "speaks of no column");
      // "Before X" said of X is "after" said of the column.
      const mirrored = { t_after: "t_before", t_before: "t_after" } as const;
      const turned = op in mirrored ? mirrored[op as keyof typeof mirrored] : op;
      return this.#temporal({ op: turned, args: [right, left] }, turned);
    }
    const column = this.#dates(left);
    if (column === null) return NOTHING;
    if ("property" in right) {
      const other = this.#dates(right);
      const comparison = TEMPORAL_ORDER[op];
      if (other === null || comparison === undefined) return this.#onlyStretches(expression, op);
      return { kind: "columns", left: column.name, comparison, right: other.name };
    }
    const comparison = TEMPORAL_COMPARISON[op];
    if (comparison === undefined) return this.#onlyStretches(expression, op);
    const interval = "interval" in right ? this.#interval(right) : this.#span(right);
    if (interval === null) return NOTHING;
    return dateFilter(column.name, comparison, interval);
  }

  #onlyStretches(expression: Expression, op: Temporal): Filter {
    const reason = `compares stretches: say ${shown(op)}(INTERVAL(start, end), …) with the columns of its two ends`;
    return this.#syntax(expression, reason);
  }

  #overlap(stretch: Expression, relations: readonly Relation[], other: Expression): Filter {
    if (!("interval" in stretch)) return NOTHING;
    const [first, second] = stretch.interval;
    const openStart = "op" in first && first.op === "openStart";
    const openEnd = !("op" in second && second.op === "closedEnd");
    const [from, to] = [this.#dates(inner(first)), this.#dates(inner(second))];
    const interval = "interval" in other ? this.#interval(other) : this.#span(other);
    if (from === null || to === null || interval === null) return NOTHING;
    const found: OverlapCondition = {
      kind: "overlap",
      start: from.name,
      end: to.name,
      side: "inside",
      relations,
      intervals: [interval],
      openStart,
      openEnd,
    };
    return found;
  }

  #year(call: Operation, comparison: OrderComparison, right: Expression): Filter {
    const column = this.#dates(call.args[0] ?? call);
    const year = this.#whole(right);
    if (column === null || year === null) return NOTHING;
    const written = readIsoDate(String(year).padStart(4, "0"));
    if (!written.ok) return this.#failed(right, written.faults);
    const span = this.#spanOf(written.value, right);
    return span === null ? NOTHING : dateFilter(column.name, DATE_COMPARISON[comparison], span);
  }

  #datePart(call: Operation, comparison: OrderComparison, right: Expression): Filter {
    const column = this.#dates(call.args[0] ?? call);
    const value = this.#whole(right);
    const part = DATE_PARTS[call.op];
    if (column === null || value === null || part === undefined) return NOTHING;
    const [name, least, most] = part;
    if (name === "BYHOUR" && column.kind === "date") {
      const facts = { name: column.name, text: call.op };
      return this.#fault(call, fault("column.finerThanDay", facts));
    }
    if (value < least || value > most) {
      const facts = { text: String(value), accepted: `${call.op} is ${least} to ${most}` };
      return this.#fault(right, fault("filter.value", facts, { value: String(value) }));
    }
    const [from, to] = {
      "=": [value, value],
      "<>": [value, value],
      "<": [least, value - 1],
      "<=": [least, value],
      ">": [value + 1, most],
      ">=": [value, most],
    }[comparison] as [number, number];
    const spans = from > to ? [] : [{ from, to, nth: null }];
    const rules = [{ name, spans } as Recurring];
    const { weekStart, firstWeekDays } = this.context.window.calendar ?? ISO_CALENDAR;
    const stretch = {
      interval: { start: null, end: null },
      rules,
      weeks: { weekStart, firstWeekDays },
      zone: this.context.window.zone.id,
    };
    return {
      kind: "date",
      column: column.name,
      side: comparison === "<>" ? "outside" : "inside",
      intervals: [],
      recurring: spans.length === 0 ? [] : [stretch],
      blanks: BLANKS,
    };
  }

  #days(call: Operation, comparison: OrderComparison, least: number, most: number): Filter {
    const [first, second] = call.args;
    if (first === undefined || second === undefined) return this.#syntax(call, "takes two columns");
    const [from, to] = [this.#dates(first), this.#dates(second)];
    if (from === null || to === null) return NOTHING;
    const bounds = {
      "=": { least, most },
      "<>": { least, most },
      "<": { least: null, most: least - 1 },
      "<=": { least: null, most },
      ">": { least: most + 1, most: null },
      ">=": { least, most: null },
    }[comparison];
    const outside = comparison === "<>";
    return {
      kind: "days",
      from: from.name,
      to: to.name,
      side: outside ? "outside" : "inside",
      ...bounds,
    };
  }

  #interval(expression: Extract<Expression, { readonly interval: unknown }>): Interval | null {
    const [first, second] = expression.interval;
    const [start, end] = [this.#end(first), this.#end(second)];
    if (start === null || end === null) return null;
    return {
      start: start.kind === "open" ? null : start.span.start,
      end: end.kind === "open" ? null : end.span.end,
    };
  }

  #end(expression: Expression) {
    if ("text" in expression && expression.text.trim() === "..") return { kind: "open" } as const;
    const span = this.#span(expression);
    return span === null ? null : ({ kind: "span", span } as const);
  }

  /** The span of a DATE, a TIMESTAMP, or a text within INTERVAL. */
  #span(expression: Expression): Span | null {
    const text =
      "date" in expression
        ? expression.date
        : "timestamp" in expression
          ? expression.timestamp
          : "text" in expression
            ? expression.text
            : null;
    if (text === null || ("text" in expression && !this.#isDateText(text))) {
      const accepted = "a date, such as DATE('2025-02-28') or TIMESTAMP('2025-02-28T14:30:00Z')";
      const written = "decimal" in expression ? expression.decimal : (text ?? "this");
      this.#fault(
        expression,
        fault("filter.value", { text: written, accepted }, { value: written }),
      );
      return null;
    }
    const read = readIsoDate(text.trim());
    if (!read.ok) {
      this.#failed(expression, read.faults);
      return null;
    }
    return this.#spanOf(read.value, expression);
  }

  /** Within INTERVAL a date is a plain text; elsewhere a text is no date. */
  #isDateText(text: string): boolean {
    return /^\d{4}/.test(text.trim());
  }

  #spanOf(written: WrittenDate, expression: Expression): Span | null {
    const part = {
      base: { kind: "written", written } as const,
      shifts: [],
      text: written.canonical,
    };
    const resolved = resolvePart(part, this.context.window);
    if (resolved.ok) return resolved.value.span;
    this.#failed(expression, resolved.faults);
    return null;
  }

  #whole(expression: Expression): number | null {
    const text =
      "decimal" in expression ? expression.decimal : "text" in expression ? expression.text : "";
    if (/^[+-]?\d{1,9}$/.test(text.trim())) return Number(text);
    const facts = { text: text === "" ? "this" : text, accepted: "a whole number" };
    this.#fault(expression, fault("filter.value", facts, { value: text }));
    return null;
  }

  #decimal(column: Column, expression: Expression): string | null {
    const value = "decimal" in expression ? decimalOf(expression.decimal) : null;
    if (value === null) this.#wrongValue(column, expression);
    return value;
  }

  /** A value that a column of its type can never be equal to, told by which side is what. */
  #wrongValue(column: Column, expression: Expression): Filter {
    const { name, type } = column;
    const value =
      "decimal" in expression ? expression.decimal : "text" in expression ? expression.text : "";
    const isText = "text" in expression;
    return this.#fault(
      expression,
      isText && holdsNumbers(column)
        ? fault("column.notText", { name, type }, { value })
        : "decimal" in expression
          ? fault("column.notNumber", { name, type }, { value })
          : fault("column.notDate", { name, type }, { value }),
    );
  }

  #column(expression: Expression): Column | null {
    if (!("property" in expression)) {
      this.#syntax(expression, "stands where the name of a column belongs");
      return null;
    }
    const found = columnFault(expression.property, this.context.columns);
    if (found !== null) this.#fault(expression, found);
    return this.context.columns.get(expression.property) ?? null;
  }

  #dates(expression: Expression): Extract<Column, { readonly type: "date" }> | null {
    const column = this.#column(expression);
    if (column === null) return null;
    if (column.type === "date") return column;
    const facts = { name: column.name, type: column.type };
    this.#fault(expression, fault("column.notDate", facts, { value: column.name }));
    return null;
  }

  #at(expression: Expression): { readonly at: number } {
    return { at: this.read.places.at(expression).at };
  }

  #syntax(expression: Expression, reason: string): Filter {
    const facts = {
      ...this.#at(expression),
      text: "op" in expression ? shown(expression.op) : valueWords(expression),
      reason,
    };
    return this.#fault(expression, fault("filter.syntax", facts, { value: facts.text }));
  }

  #failed(expression: Expression, faults: readonly Fault[]): Filter {
    for (const each of faults) this.#fault(expression, each);
    return NOTHING;
  }

  /** Notes a fault; the filter is then of no account. */
  #fault(expression: Expression, found: Fault): Filter {
    const { path } = this.read.places.at(expression);
    this.faults.push(path === undefined || path === "" ? found : placed(found, { path }));
    return NOTHING;
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

/** A stretch between two columns. */
function isStretch(expression: Expression): boolean {
  return "interval" in expression && expression.interval.every((each) => "property" in inner(each));
}

function inner(expression: Expression): Expression {
  if (!("op" in expression)) return expression;
  const marks = ["openStart", "closedEnd"];
  return marks.includes(expression.op) ? (expression.args[0] ?? expression) : expression;
}

function valueWords(expression: Exclude<Expression, Operation>): string {
  if ("text" in expression) return expression.text;
  if ("decimal" in expression) return expression.decimal;
  if ("property" in expression) return expression.property;
  if ("date" in expression) return expression.date;
  if ("timestamp" in expression) return expression.timestamp;
  return "list" in expression ? "a list" : "interval" in expression ? "INTERVAL" : "this";
}
