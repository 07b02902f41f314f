import { failure, fault, success, type Fault, type Result } from "../../faults/index.js";
import {
  checkFilter,
  holdsNumbers,
  patternOf,
  readPattern,
  type Column,
  type Filter,
  type NumberBound,
  type OrderComparison,
} from "../../filters/index.js";
import { phrasesIn, type WindowContext, type WindowsByName } from "../../windows/index.js";
import {
  ANY_RECORD,
  NO_RECORD,
  type FixedCondition,
  type Query,
  type QueryCondition,
} from "../query.js";
import { resolveQuery } from "../resolve.js";
import { comparedFunction } from "./conditions/index.js";
import { DateQueries } from "./date-queries.js";
import {
  CALLER,
  COMPARISONS,
  OWN_FUNCTIONS,
  TEMPORAL,
  type Expression,
  type Operation,
  type Temporal,
} from "./expression.js";
import { MIRRORED } from "./meanings.js";
import { Operands, type Cql2Reading } from "./operands.js";
import { readCql2Json } from "./read-json.js";
import { readCql2Text } from "./read-text.js";

export type { Cql2Reading } from "./operands.js";

/**
 * Reads a filter written in CQL2, as text or as a parsed document of the JSON form, and checks it
 * against the columns. Windows stay as they are written; {@link resolveQuery} resolves them.
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
export function readCql2Query(source: unknown, reading: Cql2Reading): Result<Query> {
  const { query, faults } = readAll(source, reading);
  return faults.length > 0 ? failure(...faults) : success(query);
}

/** What a filter is read with, and resolved for. */
export interface Cql2Context {
  readonly window: WindowContext;
  readonly columns: Cql2Reading["columns"];
  /** The name that `caller()` stands for; it is unknown where none is given. */
  readonly caller?: string;
  /** The windows that have names; none by default. */
  readonly named?: WindowsByName;
  /** The language of phrases, or whether dates and windows may be phrases at all; not by default. */
  readonly phrases?: boolean | string;
}

/** Reads a filter in CQL2 and resolves it for a moment, with the faults of both at once. */
export function readCql2(source: unknown, context: Cql2Context): Result<Filter> {
  const { window, columns, caller, named: windows } = context;
  const phrases = phrasesIn(window, context.phrases);
  const knowsCaller = caller !== undefined;
  const reading = {
    columns,
    knowsCaller,
    from: "filter",
    ...(windows && { named: windows }),
    ...(phrases && { phrases }),
  } as const;
  const { query, faults } = readAll(source, reading);
  const resolved = resolveQuery(query, { window, columns, caller: caller ?? null });
  if (faults.length === 0 && resolved.ok) return success(resolved.value.filter);
  return failure(...faults, ...(resolved.ok ? [] : resolved.faults));
}

function readAll(
  source: unknown,
  reading: Cql2Reading,
): { readonly query: Query; readonly faults: readonly Fault[] } {
  const read =
    typeof source === "string" ? readCql2Text(source, reading.knowsCaller) : readCql2Json(source);
  if (!read.ok) return { query: NO_RECORD, faults: read.faults };
  const operands = new Operands(read.value, reading);
  const query = named(new Builder(operands).query(read.value.expression), reading.from);
  if (operands.faults.length > 0) return { query, faults: operands.faults };
  return { query, faults: checkFilter(shapeOf(query), reading.columns) };
}

/** A query whose parts are named by their place in its tree. */
function named(query: Query, id: string): Query {
  switch (query.kind) {
    case "all":
    case "any":
      return { ...query, id, of: query.of.map((each, index) => named(each, `${id}.${index}`)) };
    case "not":
      return { ...query, id, of: named(query.of, `${id}.0`) };
    case "derived":
      return query;
    default:
      return { ...query, id };
  }
}

/** A filter of the same conditions on the same columns, without any dates. */
function shapeOf(query: Query): Filter {
  switch (query.kind) {
    case "all":
    case "any":
      return { kind: query.kind, of: query.of.map(shapeOf) };
    case "not":
      return { kind: "not", of: shapeOf(query.of) };
    case "derived":
      return shapeOf(query.of);
    default:
      return shapeOfCondition(query);
  }
}

function shapeOfCondition(condition: QueryCondition): Filter {
  const plain = { side: "inside", blanks: "exclude" } as const;
  switch (condition.kind) {
    case "date":
    case "datePart": {
      const { column } = condition;
      return { kind: "date", column, intervals: [], recurring: [], ...plain };
    }
    case "overlap": {
      const { start, end, relations, openStart, openEnd } = condition;
      const ends = { start, end, openStart, openEnd, side: plain.side };
      return { kind: "overlap", relations, intervals: [], ...ends };
    }
    case "caller": {
      const { column, caseSensitive } = condition;
      return { kind: "text", column, pattern: [], caseSensitive, ...plain };
    }
    case "value":
      return condition.condition;
  }
}

/** One side of a comparison of strings. */
interface TextSide {
  readonly expression: Expression;
  readonly isFolded: boolean;
}

class Builder {
  readonly #dates: DateQueries;

  constructor(private readonly operands: Operands) {
    this.#dates = new DateQueries(operands);
  }

  query(expression: Expression): Query {
    if ("boolean" in expression) return expression.boolean ? ANY_RECORD : NO_RECORD;
    if (!("op" in expression)) {
      return this.operands.syntax(expression, "is no condition");
    }
    const { op, args } = expression;
    switch (op) {
      case "and":
        return { kind: "all", of: args.map((each) => this.query(each)) };
      case "or":
        return { kind: "any", of: args.map((each) => this.query(each)) };
      case "not": {
        const [only] = args;
        return only === undefined
          ? this.operands.syntax(expression, "takes one condition")
          : { kind: "not", of: this.query(only) };
      }
    }
    return this.operands.about(expression, () => this.#condition(expression));
  }

  #condition(expression: Operation): Query {
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

  #comparison(expression: Operation, comparison: OrderComparison): Query {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined || expression.args.length > 2) {
      return this.operands.syntax(expression, "compares two sides");
    }
    // A value on the left is turned to the right, so that what is compared comes first.
    if (isValue(left) && !isValue(right)) {
      const turned = { op: MIRRORED[comparison] ?? comparison, args: [right, left] };
      return this.#comparison(turned, MIRRORED[comparison] ?? comparison);
    }
    if ("op" in left) {
      const compared = comparedFunction(left.op)?.compared(left, comparison, right, this.operands);
      if (compared !== undefined) return compared;
    }
    const [first, second] = [side(left), side(right)];
    const column = this.operands.column(first.expression);
    if (column === null) return NO_RECORD;
    if ("property" in second.expression) return this.#columns(column, comparison, second, first);
    if (column.type === "date") return this.#dates.dateComparison(column, comparison, right);
    if (holdsNumbers(column)) {
      const value = this.operands.decimal(column, right);
      return value === null
        ? NO_RECORD
        : this.#value(right, numberCondition(column.name, comparison, value));
    }
    if (column.type === "boolean") return this.#boolean(column, comparison, right, expression);
    return this.#textComparison(column, comparison, first, second, expression);
  }

  #boolean(
    column: Column,
    comparison: OrderComparison,
    right: Expression,
    whole: Expression,
  ): Query {
    if (!("boolean" in right)) return this.operands.wrongValue(column, right);
    if (comparison !== "=" && comparison !== "<>") return this.#notOrdered(column, whole);
    const side = right.boolean === (comparison === "=") ? "inside" : "outside";
    return this.#value(whole, { kind: "boolean", column: column.name, side, blanks: BLANKS });
  }

  #notOrdered({ name, type }: Column, whole: Expression): Query {
    return this.operands.fault(whole, fault("column.notOrdered", { name, type }, { value: name }));
  }

  #columns(column: Column, comparison: OrderComparison, right: TextSide, left: TextSide): Query {
    const other = this.operands.column(right.expression);
    if (left.isFolded || right.isFolded) {
      return this.operands.syntax(
        left.expression,
        "is compared with a text in CASEI, not with a column",
      );
    }
    if (other === null) return NO_RECORD;
    return this.#value(left.expression, {
      kind: "columns",
      left: column.name,
      comparison,
      right: other.name,
    });
  }

  #textComparison(
    column: Column,
    comparison: OrderComparison,
    left: TextSide,
    right: TextSide,
    whole: Expression,
  ): Query {
    const isCaller = this.#isCaller(right.expression);
    if (!isCaller && !("text" in right.expression)) {
      return this.operands.wrongValue(column, right.expression);
    }
    if (comparison !== "=" && comparison !== "<>") return this.#notOrdered(column, whole);
    const caseSensitive = this.#caseSensitive(left, right);
    const side = comparison === "<>" ? "outside" : "inside";
    if (isCaller) {
      return this.#caller(whole, column.name, side, caseSensitive, right.expression);
    }
    const pattern = patternOf("is", "text" in right.expression ? right.expression.text : "");
    const condition = { kind: "text", column: column.name, side, pattern, caseSensitive } as const;
    return this.#value(whole, { ...condition, blanks: BLANKS });
  }

  /** CASEI stands on both sides or on neither: on one it would compare small letters with capitals. */
  #caseSensitive(left: TextSide, right: TextSide): boolean {
    if (left.isFolded !== right.isFolded) {
      this.operands.syntax(
        left.isFolded ? right.expression : left.expression,
        "stands outside CASEI, and the other side in it, so that the two could never be equal",
      );
    }
    return !left.isFolded;
  }

  #like(expression: Operation): Query {
    const [left, right] = expression.args;
    if (left === undefined || right === undefined)
      return this.operands.syntax(expression, "compares two sides");
    const [first, second] = [side(left), side(right)];
    const column = this.operands.column(first.expression);
    if (column === null) return NO_RECORD;
    if (this.#isCaller(second.expression)) {
      const caseSensitive = this.#caseSensitive(first, second);
      return this.#caller(expression, column.name, "inside", caseSensitive, second.expression);
    }
    if (!("text" in second.expression))
      return this.operands.syntax(right, "is no pattern in quotes");
    return this.#value(expression, {
      kind: "text",
      column: column.name,
      side: "inside",
      pattern: readPattern(second.expression.text),
      caseSensitive: this.#caseSensitive(first, second),
      blanks: BLANKS,
    });
  }

  #between(expression: Operation): Query {
    const [value, least, most] = expression.args;
    if (value === undefined || least === undefined || most === undefined) {
      return this.operands.syntax(expression, "takes a value and two bounds");
    }
    const compared = "op" in value ? comparedFunction(value.op) : null;
    if (compared?.between && "op" in value) {
      return compared.between(value, least, most, this.operands);
    }
    const dates = "property" in value ? this.operands.context.columns.get(value.property) : null;
    const hasColumns = "property" in least || "property" in most;
    if (dates?.type === "date" && !hasColumns) return this.#dates.between(dates, least, most);
    const from = this.#comparison({ op: ">=", args: [value, least] }, ">=");
    const to = this.#comparison({ op: "<=", args: [value, most] }, "<=");
    if (from.kind === "value" && to.kind === "value") {
      const [lower, upper] = [from.condition, to.condition];
      if (lower.kind === "number" && upper.kind === "number") {
        return { ...from, condition: { ...lower, most: upper.most } };
      }
    }
    return { kind: "all", of: [from, to] };
  }

  #among(expression: Operation): Query {
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
    if (column === null) return NO_RECORD;
    if (column.type === "date") {
      return this.#dates.among(column, list.list, expression);
    }
    if (column.type === "boolean") {
      const of = list.list.map((each) => this.#boolean(column, "=", each, expression));
      return { kind: "any", of };
    }
    const ofCaller = list.list.filter((each) => this.#isCaller(side(each).expression));
    const caseSensitive = !subject.isFolded;
    const values = list.list.flatMap((each) => {
      if (ofCaller.includes(each) && column.type === "text") return [];
      const item = side(each);
      if (holdsNumbers(column)) return this.operands.decimal(column, each) ?? [];
      this.#caseSensitive(subject, item);
      if ("text" in item.expression) return [item.expression.text];
      this.operands.wrongValue(column, item.expression);
      return [];
    });
    const where = { column: column.name, side: "inside", blanks: BLANKS } as const;
    const listed = this.#value(expression, { kind: "oneOf", values, caseSensitive, ...where });
    if (ofCaller.length === 0 || column.type !== "text") return listed;
    const callers = ofCaller.map((each) =>
      this.#caller(expression, column.name, "inside", caseSensitive, side(each).expression),
    );
    const of = values.length === 0 ? callers : [listed, ...callers];
    const [only] = of;
    return of.length === 1 && only !== undefined ? only : { kind: "any", of };
  }

  #state(expression: Operation, state: "dated" | "blank" | "unreadable"): Query {
    const [only] = expression.args;
    const column = only === undefined ? null : this.operands.column(only);
    if (column === null) return NO_RECORD;
    return this.#value(expression, { kind: "state", column: column.name, state });
  }

  #isCaller(expression: Expression): boolean {
    if (!this.operands.context.knowsCaller || !("op" in expression)) return false;
    return isCallerOp(expression);
  }

  #caller(
    expression: Expression,
    column: string,
    side: "inside" | "outside",
    caseSensitive: boolean,
    caller: Expression,
  ): Query {
    const origin = this.operands.origin(expression);
    const claim = claimOf(caller);
    return { kind: "caller", id: "", origin, column, side, caseSensitive, claim };
  }

  #value(expression: Expression, condition: FixedCondition): Query {
    return { kind: "value", id: "", origin: this.operands.origin(expression), condition };
  }
}

/** Conditions of CQL2 leave blanks out; those that want them say IS NULL beside. */
const BLANKS = "exclude" as const;

/** A comparison of a column of numbers. */
function numberCondition(
  column: string,
  comparison: OrderComparison,
  value: string,
): FixedCondition {
  const bound = (isIn: boolean): NumberBound => ({ value, isIn });
  const [least, most] = {
    "=": [bound(true), bound(true)],
    "<>": [bound(true), bound(true)],
    "<": [null, bound(false)],
    "<=": [null, bound(true)],
    ">": [bound(false), null],
    ">=": [bound(true), null],
  }[comparison] as [NumberBound | null, NumberBound | null];
  const side = comparison === "<>" ? "outside" : "inside";
  return { kind: "number", column, side, least, most, blanks: BLANKS };
}

function isValue(expression: Expression): boolean {
  const { expression: inside } = side(expression);
  if ("op" in inside) return isCallerOp(inside);
  return !("property" in inside);
}

/** Whether an operation is the caller's name, or what a claim says of them. */
function isCallerOp({ op, args }: Operation): boolean {
  const [claim] = args;
  return op === CALLER && (claim === undefined || (args.length === 1 && "text" in claim));
}

function claimOf(expression: Expression): string | null {
  const [claim] = "op" in expression ? expression.args : [];
  return claim !== undefined && "text" in claim ? claim.text : null;
}

/** An expression without CASEI around it. */
function side(expression: Expression): TextSide {
  if (!("op" in expression) || expression.op !== "casei") return { expression, isFolded: false };
  return { expression: expression.args[0] ?? expression, isFolded: true };
}
