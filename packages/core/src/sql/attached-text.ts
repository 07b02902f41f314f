import { MS_PER_DAY, civilDay, dayOf, isoTime, wallMs } from "../calendar/index.js";
import { failure, fault, success, type Result } from "../faults/index.js";
import {
  FIXED_FIELDS,
  fixedFormOf,
  type CompiledReading,
  type FixedField,
  type FixedForm,
  type Reading,
} from "../reading/index.js";
import { partOf } from "./parts.js";
import { MAX_LISTED } from "./ranges.js";
import type { EncodedDates } from "./attached-cells.js";
import { END_MS, FIRST_MS, wholeDay } from "./attached-days.js";
import { functionCall, joined, nameOf, numeral, sql, valueOf, type Fragment } from "./fragment.js";

/** Days up to which strings in the order of their dates are listed: then their form needs no test. */
const SHORT = 100;

/** Milliseconds of the parts of a date, where they are of one length. */
const TICKS: Readonly<Record<FixedField, number>> = {
  year: MS_PER_DAY,
  month: MS_PER_DAY,
  day: MS_PER_DAY,
  hour: 3_600_000,
  minute: 60_000,
  second: 1_000,
  fraction: 1,
};

/**
 * Dates as strings of one pattern of plain numbers. Where the parts stand in the order of their
 * length the strings are in the order of their dates, and are compared as they are; else days are
 * listed, or the parts are put in order for each record, which no index serves.
 */
export function textEncoding(
  name: string,
  value: string,
  reading: Reading,
  compiled: CompiledReading,
): Result<EncodedDates> {
  const [pattern = "iso8601", another] = reading.patterns ?? [];
  const form = another === undefined ? fixedFormOf(pattern) : null;
  if (form === null) {
    const instead =
      another === undefined
        ? "numbers of fixed width, such as yyyy-MM-dd or dd/MM/yyyy HH:mm"
        : "one pattern";
    const reason = another === undefined ? `the pattern ${pattern}` : "more than one pattern";
    return failure(fault("storage.reading", { column: name, reason, instead }, { value: pattern }));
  }
  return success(fixedTexts(value, form, compiled));
}

function fixedTexts(value: string, form: FixedForm, compiled: CompiledReading): EncodedDates {
  const column = nameOf(value);
  const { kind } = compiled;
  const fields = FIXED_FIELDS.filter((field) => form.places.has(field));
  const finest = fields.at(-1) ?? "day";
  const part = (field: FixedField) => partOf(column, form, field);
  const keepsOrder = isInOrder(form, fields);
  const key: Fragment = { kind: "concat", of: fields.map(part) };
  const order = keepsOrder ? column : key;
  const tick = kind === "date" ? MS_PER_DAY : TICKS[finest];
  const spell = (ms: number) =>
    keepsOrder ? spelledWhole(form, fields, ms) : spelledKey(fields, ms);
  const bound = (ms: number, compared: (value: Fragment) => Fragment, isFrom: boolean) => {
    const point = Math.ceil(ms / tick) * tick;
    if (point <= FIRST_MS) return isFrom ? "all" : "none";
    if (point >= END_MS) return isFrom ? "none" : "all";
    return compared(valueOf(spell(point)));
  };
  const isDays = finest === "day";
  const hasLetters = form.characters.some(
    (character) => character !== null && !/^[ -/:-@]$/.test(character),
  );
  const digits = fields.reduce((sum, field) => sum + (form.places.get(field)?.width ?? 0), 0);
  const timePart = (field: FixedField) =>
    fields.includes(field) ? part(field) : field === "fraction" ? sql`'000'` : sql`'00'`;
  const iso: Fragment = {
    kind: "concat",
    of: [
      part("year"),
      sql`'-'`,
      part("month"),
      sql`'-'`,
      part("day"),
      sql`' '`,
      timePart("hour"),
      sql`':'`,
      timePart("minute"),
      sql`':'`,
      timePart("second"),
      sql`'.'`,
      timePart("fraction"),
    ],
  };
  const millis = functionCall("millis", iso);
  return {
    kind,
    column,
    valid: { kind: "dateText", of: column, form },
    from: (ms) => bound(ms, (text) => sql`${order} >= ${text}`, true),
    before: (ms) => bound(ms, (text) => sql`${order} < ${text}`, false),
    onDays: (days) => {
      if (!isDays) return null;
      const strings = days.map((day) => valueOf(spelledWhole(form, fields, day * MS_PER_DAY)));
      const listed = sql`${column} IN (${joined(strings, sql`, `)})`;
      if (hasLetters) return listed;
      // A text that a collation takes for one of them, and that is not, has more bytes.
      return sql`(${listed} AND ${functionCall("bytes", column)} = ${numeral(form.characters.length)})`;
    },
    listsExactly: !hasLetters,
    listsUpTo: isDays ? (keepsOrder ? SHORT : MAX_LISTED) : 0,
    // What is no date may lie beyond: it need not be read.
    closed: keepsOrder
      ? {
          from: sql`${column} >= ${valueOf(spell(FIRST_MS))}`,
          before: sql`${column} <= ${valueOf(spell(END_MS - 1))}`,
        }
      : { from: null, before: null },
    order,
    // Two columns may have collations that cannot be compared.
    scale: null,
    millis: kind === "date" && !isDays ? wholeDay(millis) : millis,
    msOf: (ordered) => {
      const text = String(ordered);
      return compiled.dateOf(keepsOrder ? text : unfolded(form, fields, text));
    },
    keepsOrder,
    isFiner: (kind === "date" && !isDays) || (form.places.get("fraction")?.width ?? 0) > 3,
    orderKey: keepsOrder ? null : { expression: key, digits },
    isWhite: functionCall("isWhite", column),
    spelled: (blanks) =>
      sql`${functionCall("exactOf", column)} IN (${joined(blanks.map(valueOf), sql`, `)})`,
  };
}

/** Whether a text's parts stand from the longest to the shortest. */
function isInOrder({ places }: FixedForm, fields: readonly FixedField[]): boolean {
  const at = fields.map((field) => places.get(field)?.at ?? 0);
  return at.every((place, index) => index === 0 || place > (at[index - 1] ?? 0));
}

/** The parts of a moment, each in its digits. */
function digitsOf(ms: number): Readonly<Record<FixedField, string>> {
  const day = dayOf(wallMs(ms));
  const { year, month, day: ofMonth } = civilDay(day);
  const time = isoTime(ms - day * MS_PER_DAY);
  const two = (number: number) => String(number).padStart(2, "0");
  return {
    year: String(year).padStart(4, "0"),
    month: two(month),
    day: two(ofMonth),
    hour: time.slice(0, 2),
    minute: time.slice(3, 5),
    second: time.slice(6, 8),
    fraction: time.slice(9).padEnd(3, "0"),
  };
}

function spelledWhole(form: FixedForm, fields: readonly FixedField[], ms: number): string {
  const digits = digitsOf(ms);
  const characters = form.characters.map((character) => character ?? "");
  for (const field of fields) {
    const at = form.places.get(field)?.at ?? 0;
    Array.from(digits[field]).forEach((digit, index) => (characters[at + index] = digit));
  }
  return characters.join("");
}

function spelledKey(fields: readonly FixedField[], ms: number): string {
  const digits = digitsOf(ms);
  return fields.map((field) => digits[field]).join("");
}

/** A key as the text that has it. */
function unfolded(form: FixedForm, fields: readonly FixedField[], key: string): string {
  const characters = form.characters.map((character) => character ?? "");
  let from = 0;
  for (const field of fields) {
    const { at, width } = form.places.get(field) ?? { at: 0, width: 0 };
    for (let index = 0; index < width; index++) characters[at + index] = key[from++] ?? "";
  }
  return characters.join("");
}
