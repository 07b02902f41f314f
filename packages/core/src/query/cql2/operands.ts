import { fault, withLocation, type Fault, type Result } from "../../faults/index.js";
import { readIsoDate, type WrittenDate } from "../../reading/index.js";
import {
  meaningOf,
  type Part,
  type PhraseContext,
  type WindowsByName,
} from "../../windows/index.js";
import {
  columnFault,
  decimalOf,
  holdsNumbers,
  type Catalogue,
  type Column,
} from "../../filters/index.js";
import { NO_RECORD, type Origin, type Query, type WrittenInterval } from "../query.js";
import { type Expression, type Operation } from "./expression.js";
import { shown, type ReadExpression } from "./read-text.js";

/** What an expression is understood against. */
export interface Cql2Reading {
  readonly columns: Catalogue;
  /** Whether `caller()` is known here. */
  readonly knowsCaller: boolean;
  /** The windows that have names here; none by default. */
  readonly named?: WindowsByName;
  /** What dates and windows are read against as people write them; by default they are not. */
  readonly phrases?: PhraseContext;
  /** Where the expression stands: in a request's filter, or in a listing's own. */
  readonly from: "filter" | "fixedFilter";
}

/**
 * Reads the operands of conditions, and gathers every fault of them, each with its place. What a
 * fault spoils is the query that matches nothing, which is then of no account.
 */
export class Operands {
  readonly faults: Fault[] = [];
  #hasPhrase = false;

  constructor(
    private readonly read: ReadExpression,
    readonly context: Cql2Reading,
  ) {}

  interval(
    expression: Extract<Expression, { readonly interval: unknown }>,
  ): WrittenInterval | null {
    const [first, second] = expression.interval;
    const [start, end] = [this.#end(first), this.#end(second)];
    if (start === null || end === null) return null;
    return { start: start.part, end: end.part };
  }

  #end(expression: Expression): { readonly part: Part | null } | null {
    if ("text" in expression && expression.text.trim() === "..") return { part: null };
    const part = this.written(expression);
    return part === null ? null : { part };
  }

  /** A DATE, a TIMESTAMP, or a text within INTERVAL. */
  written(expression: Expression): Part | null {
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
      this.fault(
        expression,
        fault("filter.value", { text: written, accepted }, { value: written }),
      );
      return null;
    }
    const read = this.asMeant(text, (each) => readIsoDate(each.trim()));
    if (!read.ok) {
      this.failed(expression, read.faults);
      return null;
    }
    return partOf(read.value);
  }

  /** Whether the current condition has a phrase, which may mean other dates tomorrow. */
  get changesDaily(): { readonly changesDaily?: true } {
    return this.#hasPhrase ? { changesDaily: true } : {};
  }

  /** A text as it is written; where it cannot be read and phrases are taken, what it means as one. */
  asMeant<T>(text: string, read: (text: string) => Result<T>): Result<T> {
    const written = read(text);
    const { phrases } = this.context;
    if (written.ok || phrases === undefined) return written;
    const meant = meaningOf(text, written, phrases);
    if (!meant.ok) return meant;
    const found = read(meant.value);
    if (found.ok) this.#hasPhrase = true;
    return found.ok ? found : written;
  }

  /** Within INTERVAL a date is a plain text; elsewhere a text is no date. */
  #isDateText(text: string): boolean {
    return /^\d{4}/.test(text.trim());
  }

  whole(expression: Expression): number | null {
    const text =
      "decimal" in expression ? expression.decimal : "text" in expression ? expression.text : "";
    if (/^[+-]?\d{1,9}$/.test(text.trim())) return Number(text);
    const facts = { text: text === "" ? "this" : text, accepted: "a whole number" };
    this.fault(expression, fault("filter.value", facts, { value: text }));
    return null;
  }

  decimal(column: Column, expression: Expression): string | null {
    const value = "decimal" in expression ? decimalOf(expression.decimal) : null;
    if (value === null) this.wrongValue(column, expression);
    return value;
  }

  /** A value that a column of its type can never be equal to, known by which side is what. */
  wrongValue(column: Column, expression: Expression): Query {
    const { name, type } = column;
    const value =
      "decimal" in expression ? expression.decimal : "text" in expression ? expression.text : "";
    const isText = "text" in expression;
    if ("boolean" in expression || column.type === "boolean") {
      const text = "boolean" in expression ? String(expression.boolean) : value;
      return this.fault(expression, fault("column.notBoolean", { name, type }, { value: text }));
    }
    return this.fault(
      expression,
      isText && holdsNumbers(column)
        ? fault("column.notText", { name, type }, { value })
        : "decimal" in expression
          ? fault("column.notNumber", { name, type }, { value })
          : fault("column.notDate", { name, type }, { value }),
    );
  }

  column(expression: Expression): Column | null {
    if (!("property" in expression)) {
      this.syntax(expression, "stands where the name of a column belongs");
      return null;
    }
    const found = columnFault(expression.property, this.context.columns);
    if (found !== null) this.fault(expression, found);
    return this.context.columns.get(expression.property) ?? null;
  }

  dates(expression: Expression): Extract<Column, { readonly type: "date" }> | null {
    const column = this.column(expression);
    if (column === null) return null;
    if (column.type === "date") return column;
    const facts = { name: column.name, type: column.type };
    this.fault(expression, fault("column.notDate", facts, { value: column.name }));
    return null;
  }

  /** Where a condition stands, for whoever finds a fault of it later. */
  origin(expression: Expression): Origin {
    const { path } = this.read.places.at(expression);
    const { from: kind } = this.context;
    return path === undefined || path === "" ? { kind } : { kind, path };
  }

  at(expression: Expression): { readonly at: number } {
    return { at: this.read.places.at(expression).at };
  }

  syntax(expression: Expression, reason: string): Query {
    const facts = {
      ...this.at(expression),
      text: "op" in expression ? shown(expression.op) : valueWords(expression),
      reason,
    };
    return this.fault(expression, fault("filter.syntax", facts, { value: facts.text }));
  }

  /** What a condition comes to; faults of the values in it name its column. */
  about(condition: Operation, queryOf: () => Query): Query {
    const first = this.faults.length;
    this.#hasPhrase = false;
    const query = queryOf();
    const [column, other] = columnsIn(condition);
    if (column === undefined || other !== undefined) return query;
    const found = this.faults.splice(first);
    this.faults.push(
      ...found.map((each) => (namesColumn(each) ? each : withLocation(each, { column }))),
    );
    return query;
  }

  failed(expression: Expression, faults: readonly Fault[]): Query {
    for (const each of faults) this.fault(expression, each);
    return NO_RECORD;
  }

  /** Notes a fault; the query is then of no account. */
  fault(expression: Expression, found: Fault): Query {
    const { path } = this.read.places.at(expression);
    this.faults.push(path === undefined || path === "" ? found : withLocation(found, { path }));
    return NO_RECORD;
  }
}

/** A written date as a part of a window. */
export function partOf(written: WrittenDate): Part {
  return { base: { kind: "written", written }, shifts: [], text: written.canonical };
}

/** The names of the columns of which an expression speaks. */
function columnsIn(expression: Expression): readonly string[] {
  if ("property" in expression) return [expression.property];
  const within =
    "op" in expression
      ? expression.args
      : "interval" in expression
        ? expression.interval
        : "list" in expression
          ? expression.list
          : [];
  return [...new Set(within.flatMap(columnsIn))];
}

function namesColumn({ code }: Fault): boolean {
  return code.startsWith("column.") || code === "filter.syntax";
}

function valueWords(expression: Exclude<Expression, Operation>): string {
  if ("text" in expression) return expression.text;
  if ("decimal" in expression) return expression.decimal;
  if ("property" in expression) return expression.property;
  if ("date" in expression) return expression.date;
  if ("timestamp" in expression) return expression.timestamp;
  return "list" in expression ? "a list" : "interval" in expression ? "INTERVAL" : "this";
}
