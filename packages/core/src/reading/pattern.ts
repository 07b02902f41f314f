import {
  FIRST_YEAR,
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_MINUTE,
  MS_PER_SECOND,
  dayNumber,
  dayStart,
  wallMs,
  type WallMs,
} from "../calendar/index.js";
import { failure, fault, success, type Result } from "../faults/index.js";
import { monthAndDayReason } from "./iso.js";

/** What a text is under a pattern: a wall-clock time, or why it is none. */
export type PatternReading =
  | { readonly kind: "fits"; readonly wall: WallMs; readonly hasTime: boolean }
  | { readonly kind: "impossible"; readonly reason: string }
  | { readonly kind: "other" };

/** A date pattern made ready for reading and writing. */
export interface DatePattern {
  readonly pattern: string;
  /** Whether the pattern has a time of day. */
  readonly hasTime: boolean;
  read(text: string): PatternReading;
}

type Field = "year" | "month" | "day" | "hour" | "minute" | "second" | "fraction";

interface Piece {
  readonly source: string;
  readonly field?: Field;
}

/** The numeric date field letters of UTS #35 part 4, table "Date Field Symbol Table". */
const LETTERS: Readonly<Record<string, Field>> = {
  y: "year",
  M: "month",
  d: "day",
  H: "hour",
  m: "minute",
  s: "second",
  S: "fraction",
};

/**
 * Compiles a pattern of the date field letters `y M d H m s S`, quoted text and other signs.
 *
 * A doubled letter (`dd`) wants exactly so many digits, a single one (`d`) one or two; `yyyy`
 * wants four. Fails with `reading.pattern` where a letter is not known, repeated or missing:
 * year, month and day must all be there.
 *
 * @see Unicode UTS #35 part 4, Date Format Patterns
 * @example compilePattern("dd/MM/yyyy")
 */
export function compilePattern(pattern: string): Result<DatePattern> {
  const pieces = split(pattern);
  if (typeof pieces === "string") return refuse(pattern, pieces);
  const fields = pieces.flatMap(({ field }) => (field === undefined ? [] : [field]));
  for (const wanted of ["year", "month", "day"] as const) {
    if (!fields.includes(wanted)) return refuse(pattern, `it has no ${wanted}`);
  }
  const repeated = fields.find((field, index) => fields.indexOf(field) !== index);
  if (repeated !== undefined) return refuse(pattern, `it has the ${repeated} twice`);
  const expression = new RegExp(`^${pieces.map(({ source }) => source).join("")}$`);
  const hasTime = fields.includes("hour");
  return success({
    pattern,
    hasTime,
    read: (text) => readFields(expression, fields, hasTime, text),
  });
}

function split(pattern: string): readonly Piece[] | string {
  const pieces: Piece[] = [];
  const tokens = pattern.match(/([A-Za-z])\1*|'(?:[^']|'')*'|[^A-Za-z]/g) ?? [];
  for (const token of tokens) {
    if (token === "'") return "a quotation mark is not closed";
    if (token.startsWith("'")) {
      const quoted = token === "''" ? "'" : token.slice(1, -1).replaceAll("''", "'");
      pieces.push({ source: escaped(quoted) });
      continue;
    }
    if (!/^[A-Za-z]/.test(token)) {
      pieces.push({ source: escaped(token) });
      continue;
    }
    const field = LETTERS[token[0] ?? ""];
    if (field === undefined) return `the letter ${token[0] ?? ""} is not one that is read here`;
    const source = digitsOf(field, token.length);
    if (source === null) return `${token} is not a width that is read here`;
    pieces.push({ source, field });
  }
  return pieces;
}

function digitsOf(field: Field, width: number): string | null {
  if (field === "year") return width === 4 || width === 1 ? "(\\d{4})" : null;
  if (field === "fraction") return width <= 9 ? `(\\d{${width}})` : null;
  if (width > 2) return null;
  return width === 2 ? "(\\d{2})" : "(\\d{1,2})";
}

function readFields(
  expression: RegExp,
  fields: readonly Field[],
  hasTime: boolean,
  text: string,
): PatternReading {
  const match = expression.exec(text);
  if (match === null) return { kind: "other" };
  const values: Record<Field, number> = {
    year: 0,
    month: 1,
    day: 1,
    hour: 0,
    minute: 0,
    second: 0,
    fraction: 0,
  };
  fields.forEach((field, index) => {
    const digits = match[index + 1] ?? "0";
    values[field] = Number(field === "fraction" ? digits.slice(0, 3).padEnd(3, "0") : digits);
  });
  const reason = impossibleReason(values);
  if (reason !== null) return { kind: "impossible", reason };
  const day = dayNumber(values.year, values.month, values.day);
  const time =
    values.hour * MS_PER_HOUR +
    values.minute * MS_PER_MINUTE +
    values.second * MS_PER_SECOND +
    values.fraction;
  return { kind: "fits", wall: wallMs(dayStart(day) + (time % MS_PER_DAY)), hasTime };
}

function impossibleReason(values: Record<Field, number>): string | null {
  if (values.year < FIRST_YEAR) return "years run from 0001 to 9999";
  const reason = monthAndDayReason(values.year, values.month, values.day);
  if (reason !== null) return reason;
  if (values.hour > 23) return "the hours of a day are 00 to 23";
  if (values.minute > 59) return "the minutes of an hour are 00 to 59";
  return values.second > 59 ? "the seconds of a minute are 00 to 59" : null;
}

function escaped(text: string): string {
  return text.replace(/[\\^$.*+?()[\]{}|/-]/g, "\\$&");
}

function refuse(pattern: string, reason: string): Result<never> {
  return failure(fault("reading.pattern", { pattern, reason }, { value: pattern }));
}
