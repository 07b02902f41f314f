import type { PatternPiece } from "../filters/index.js";
import type { FixedForm } from "../reading/index.js";
import type { WeekRules } from "../windows/index.js";

/** What a dialect's members are called that write one piece from another. */
export type PlainCall =
  | "exact"
  | "exactOf"
  | "small"
  | "isWhite"
  | "bytes"
  | "shown"
  | "decimal"
  | "moment"
  | "millis"
  | "momentMillis"
  | "wholeDays"
  | "floor"
  | "spread"
  | "dateOfMillis"
  | "utcDate"
  | "isTrue"
  | "isFalse";

/** The fields of a calendar date that a database works out; `weekday` is 1 for Monday to 7. */
export type CalendarField =
  | "year"
  | "month"
  | "day"
  | "dayOfYear"
  | "weekday"
  | "daysInMonth"
  | "hour"
  | "minute";

/** A value that may be bound to a prepared statement. */
export type SqlValue = string | number | bigint | null;

/**
 * A piece of SQL. Text comes only from templates in this code, names only from
 * {@link nameOf}, values only from {@link valueOf}: nothing that a caller typed can become text.
 */
export type Fragment =
  | { readonly kind: "text"; readonly text: string }
  | { readonly kind: "name"; readonly name: string }
  | { readonly kind: "value"; readonly value: SqlValue }
  /** What a database writes in its own way; see {@link Dialect}. */
  | { readonly kind: "call"; readonly call: PlainCall; readonly of: Fragment }
  | { readonly kind: "dateText"; readonly of: Fragment; readonly form: FixedForm }
  | { readonly kind: "pattern"; readonly of: Fragment; readonly pattern: readonly PatternPiece[] }
  | { readonly kind: "concat"; readonly of: readonly Fragment[] }
  | { readonly kind: "dateField"; readonly field: CalendarField; readonly of: Fragment }
  /** The number of the week of a date, or what gives it where a database has no such function. */
  | {
      readonly kind: "week";
      readonly of: Fragment;
      readonly weeks: WeekRules;
      readonly otherwise: Fragment;
    }
  /** A date and time moved on by a number of seconds. */
  | { readonly kind: "shifted"; readonly of: Fragment; readonly seconds: Fragment }
  /** That a date is a day that there is; nothing where the database holds no other. */
  | { readonly kind: "realDay"; readonly of: Fragment }
  /** What is made of a value that is worked out but once, and has a name there. */
  | {
      readonly kind: "worked";
      readonly of: Fragment;
      readonly name: string;
      readonly make: Fragment;
    }
  /** Always true, within a subquery about a record: it is answered for each one by itself. */
  | { readonly kind: "byItself" }
  | { readonly kind: "sequence"; readonly parts: readonly Fragment[] };

/** A finished statement: text with placeholders, and the values to bind, in order. */
export interface Statement {
  readonly text: string;
  readonly values: readonly SqlValue[];
}

/** A piece of SQL text, with other pieces set into it. */
export function sql(strings: TemplateStringsArray, ...pieces: readonly Fragment[]): Fragment {
  const plain = plainTexts(strings);
  const [only] = plain;
  if (plain.length === 1 && only !== undefined) return only;
  const parts: Fragment[] = [];
  // Loops, here and below: every request for records is written out by them.
  for (let index = 0; index < plain.length; index++) {
    const text = plain[index];
    if (text?.kind === "text" && text.text !== "") parts.push(text);
    const piece = pieces[index];
    if (piece !== undefined) parts.push(piece);
  }
  return { kind: "sequence", parts };
}

/** The strings of a template as pieces, which are made once for each place in the code. */
const templates = new WeakMap<TemplateStringsArray, readonly Fragment[]>();

function plainTexts(strings: TemplateStringsArray): readonly Fragment[] {
  const held = templates.get(strings);
  if (held !== undefined) return held;
  const fragments = strings.map((text): Fragment => ({ kind: "text", text }));
  templates.set(strings, fragments);
  return fragments;
}

/** A number of this code, such as a place in a form or a part of the calendar: never what anybody typed. */
export function numeral(number: number): Fragment {
  return { kind: "text", text: String(number) };
}

/** A text of the software's own data, such as the name of a month: never what anybody typed. */
export function literal(text: string): Fragment {
  if (text.includes("\\")) throw new Error(`${text} is no plain text`);
  return { kind: "text", text: `'${text.replaceAll("'", "''")}'` };
}

/** The name of a table or column; only for names that come from the catalogue. */
export function nameOf(name: string): Fragment {
  return { kind: "name", name };
}

/** A value to bind. */
export function valueOf(value: SqlValue): Fragment {
  return { kind: "value", value };
}

/** A piece with something else in place of each that it is made of; itself where it is made of none. */
export function withPieces(fragment: Fragment, of: (piece: Fragment) => Fragment): Fragment {
  switch (fragment.kind) {
    case "text":
    case "value":
    case "name":
    case "byItself":
      return fragment;
    case "week":
      return { ...fragment, of: of(fragment.of), otherwise: of(fragment.otherwise) };
    case "shifted":
      return { ...fragment, of: of(fragment.of), seconds: of(fragment.seconds) };
    case "worked":
      return { ...fragment, of: of(fragment.of), make: of(fragment.make) };
    case "concat":
      return { ...fragment, of: fragment.of.map(of) };
    case "sequence":
      return { ...fragment, parts: fragment.parts.map(of) };
    default:
      return { ...fragment, of: of(fragment.of) };
  }
}

/** A piece with what it would bind in its text: only for values that this code has worked out, and nobody typed. */
export function withConstants(fragment: Fragment): Fragment {
  return fragment.kind === "value"
    ? constantOf(fragment.value)
    : withPieces(fragment, withConstants);
}

function constantOf(value: SqlValue): Fragment {
  if (typeof value === "string") return literal(value);
  // With an exponent it is a floating-point number everywhere, and just this one.
  const isFraction = typeof value === "number" && !Number.isInteger(value);
  return { kind: "text", text: isFraction ? value.toExponential() : String(value) };
}

/** What a database writes in its own way, of a piece. */
export function functionCall(name: PlainCall, of: Fragment): Fragment {
  return { kind: "call", call: name, of };
}

/** A field of a calendar date, as a whole number. */
export function dateField(field: CalendarField, of: Fragment): Fragment {
  return { kind: "dateField", field, of };
}

/**
 * What is made of a whole number that takes long to work out or to write.
 *
 * @param name what the number is called there: within another one it needs a name of its own.
 */
export function workedOnce(
  of: Fragment,
  make: (value: Fragment) => Fragment,
  name: "orisma_worked" | "orisma_in_year" = "orisma_worked",
): Fragment {
  return { kind: "worked", of, name, make: make({ kind: "text", text: name }) };
}

/** See the kind `byItself` of {@link Fragment}. */
export const BY_ITSELF: Fragment = { kind: "byItself" };

/** Pieces with a separator between them. */
export function joined(pieces: readonly Fragment[], separator: Fragment): Fragment {
  const parts: Fragment[] = [];
  for (let index = 0; index < pieces.length; index++) {
    const piece = pieces[index];
    if (index > 0) parts.push(separator);
    if (piece !== undefined) parts.push(piece);
  }
  return { kind: "sequence", parts };
}

/** Conditions in brackets with a word between them; one alone needs neither. */
export function joinConditions(
  conditions: readonly Fragment[],
  separator: Fragment,
  ofNothing: Fragment,
): Fragment {
  const [only] = conditions;
  if (only === undefined) return ofNothing;
  return conditions.length === 1 ? only : sql`(${joined(conditions, separator)})`;
}

/** The values that a piece binds, or somewhat more. */
export function countValues(fragment: Fragment): number {
  switch (fragment.kind) {
    case "value":
      return 1;
    case "call":
    case "pattern":
    case "dateText":
    case "dateField":
    case "realDay":
      // Beside those of the piece at most one of its own.
      return countValues(fragment.of) + 1;
    case "week":
      return Math.max(countValues(fragment.of), countValues(fragment.otherwise));
    case "shifted":
      return countValues(fragment.of) + countValues(fragment.seconds);
    case "worked":
      return countValues(fragment.of) + countValues(fragment.make);
    case "concat":
    case "sequence":
      return partsOf(fragment).reduce((sum, part) => sum + countValues(part), 0);
    default:
      return 0;
  }
}

function partsOf(fragment: Extract<Fragment, { kind: "concat" | "sequence" }>) {
  return fragment.kind === "concat" ? fragment.of : fragment.parts;
}
