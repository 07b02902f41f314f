import {
  END_MS,
  FIRST_MS,
  MS_PER_DAY,
  civilDay,
  dayNumber,
  dayOf,
  isoTime,
  wallMs,
} from "../calendar/index.js";
import { failure, fault, success, type Result } from "../faults/index.js";
import { formEncoding, type FormColumn } from "./attached-forms.js";
import {
  FIXED_FIELDS,
  fixedFormOf,
  type CompiledReading,
  type FixedField,
  type FixedForm,
  type OffsetForm,
  type Reading,
} from "../reading/index.js";
import { behind, partOf } from "./parts.js";
import { MAX_LISTED } from "./ranges.js";
import type { EncodedDates } from "./attached-cells.js";
import { wholeDay } from "./attached-days.js";
import { functionCall, joined, nameOf, numeral, sql, valueOf, type Fragment } from "./fragment.js";
import { clockZone, wallClockDates } from "./zoned.js";

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
  column: Fragment,
  reading: Reading,
  compiled: CompiledReading,
): Result<EncodedDates> {
  const [pattern = "iso8601", another] = reading.patterns ?? [];
  const form = another === undefined && reading.partial === undefined ? fixedFormOf(pattern) : null;
  if (form === null) return formEncoding(name, textColumn(column), reading, compiled);
  if (form.offset === undefined) {
    return success(wallClockDates(reading, compiled, (as) => fixedStrings(column, form, as)));
  }
  if (compiled.kind !== "instant" && reading.zone === undefined) {
    const reason = "offsets, and no zone in which a day or a time would be meant";
    const instead = "the kind instant, or the zone UTC";
    return failure(fault("storage.reading", { column: name, reason, instead }, { value: pattern }));
  }
  if (compiled.kind !== "instant" && clockZone(reading) !== null) {
    return formEncoding(name, textColumn(column), reading, compiled);
  }
  return success(offsetStrings(column, form, form.offset, compiled));
}

/**
 * Dates as whole numbers whose digits are those of a pattern, such as `20250228` under `yyyyMMdd`, which are in the
 * order of their dates; digits in another order are worked out. Fails with `storage.reading` for a pattern that has
 * other characters.
 */
export function digitsEncoding(
  name: string,
  value: string,
  reading: Reading,
  compiled: CompiledReading,
): Result<EncodedDates> {
  const { patterns = [] } = reading;
  const [pattern = "iso8601", another] = patterns;
  const form = another === undefined && reading.partial === undefined ? fixedFormOf(pattern) : null;
  const isDigits = form?.characters.every((character) => character === null) === true;
  if (form !== null && isDigits && isInOrder(form, fieldsOf(form))) {
    return success(
      wallClockDates(reading, compiled, (as) => digitNumbers(nameOf(value), form, as)),
    );
  }
  return formEncoding(name, digitsColumn(nameOf(value)), reading, compiled);
}

/** A column of strings of whatever form. */
export function textColumn(column: Fragment): FormColumn {
  const text = functionCall("exactOf", column);
  return {
    column,
    text,
    isNumber: false,
    isWhite: functionCall("isWhite", column),
    spelled: (blanks) => sql`${text} IN (${joined(blanks.map(valueOf), sql`, `)})`,
  };
}

/** A column of whole numbers whose digits are dates. */
function digitsColumn(column: Fragment): FormColumn {
  return {
    column,
    text: functionCall("shown", column),
    isNumber: true,
    isWhite: null,
    spelled: (blanks) => spelledNumbers(column, blanks),
  };
}

/** That a number is spelled as one of some blanks; null where none of them is a number. */
function spelledNumbers(column: Fragment, blanks: readonly string[]): Fragment | null {
  const numbers = blanks.filter((blank) => /^-?(?:0|[1-9]\d{0,14})$/.test(blank)).map(Number);
  return numbers.length === 0 ? null : sql`${column} IN (${joined(numbers.map(valueOf), sql`, `)})`;
}

function digitNumbers(column: Fragment, form: FixedForm, compiled: CompiledReading): EncodedDates {
  const fields = fieldsOf(form);
  const plain = fixedStrings(functionCall("shown", column), form, compiled);
  const numberOf = (ms: number) => valueOf(Number(spelledWhole(form, fields, ms)));
  const { bound, isDays } = boundsOf(form, compiled);
  // Years with fewer than four digits lose their noughts as numbers, and are no dates.
  const first = sql`${column} >= ${numberOf(FIRST_NUMBER_MS)}`;
  const last = sql`${column} <= ${numberOf(END_MS - 1)}`;
  return {
    ...plain,
    column,
    valid: sql`(${first} AND ${last} AND ${plain.valid})`,
    from: (ms) => bound(ms, (point) => sql`${column} >= ${numberOf(point)}`, true),
    before: (ms) => bound(ms, (point) => sql`${column} < ${numberOf(point)}`, false),
    onDays: (days) =>
      isDays
        ? sql`${column} IN (${joined(
            days.map((day) => numberOf(day * MS_PER_DAY)),
            sql`, `,
          )})`
        : null,
    listsExactly: false,
    listsUpTo: isDays ? SHORT : 0,
    closed: { from: first, before: last },
    order: column,
    scale: isDays ? "digits" : null,
    msOf: (ordered) => compiled.dateOf(String(ordered)),
    isWhite: null,
    spelled: (blanks) => spelledNumbers(column, blanks),
  };
}

/**
 * Moments as strings with a UTC offset behind them. They are not in the order of their dates, but never a day from it:
 * where their parts are in order an index finds what lies near, and the moment itself is worked out of that.
 */
function offsetStrings(
  column: Fragment,
  form: FixedForm,
  { hasColon }: OffsetForm,
  compiled: CompiledReading,
): EncodedDates {
  const fields = fieldsOf(form);
  const { offset: _offset, ...local } = form;
  const plain = fixedStrings(column, local, compiled);
  const offset = behind(column, form);
  const partAt = (field: FixedField) =>
    form.places.has(field) ? partOf(column, form, field) : sql`'00'`;
  // With a nought before them, digits that are not there are none.
  const digits = (text: Fragment) =>
    functionCall("decimal", { kind: "concat", of: [sql`'0'`, text] });
  const minutes = sql`(${digits(sql`SUBSTR(${offset}, 2, 2)`)} * 60 + ${digits(sql`SUBSTR(${offset}, ${numeral(hasColon ? 5 : 4)}, 2)`)})`;
  const ahead = sql`${minutes} * CASE SUBSTR(${offset}, 1, 1) WHEN '-' THEN -1 ELSE 1 END`;
  const millis = sql`(${plain.millisOfDay} - ${ahead} * 60000)`;
  const spelled: Fragment = { kind: "dateText", of: column, form };
  // Only on the first and the last day can an offset lead out of the calendar.
  const date = { kind: "concat", of: (["year", "month", "day"] as const).map(partAt) } as const;
  const ofDay = sql`(${digits(partAt("hour"))} * 60 + ${digits(partAt("minute"))} - ${ahead})`;
  const isWithin = sql`CASE ${date} WHEN '00010101' THEN ${ofDay} >= 0 WHEN '99991231' THEN ${ofDay} < 1440 ELSE 1 = 1 END`;
  const valid = sql`CASE WHEN ${spelled} THEN ${isWithin} ELSE 1 = 0 END`;
  const dated = compiled.kind === "date" ? wholeDay(millis) : millis;
  // What is no date is worked out of nothing: a database may try it before what is beside it.
  const moment = sql`CASE WHEN ${valid} THEN ${dated} END`;
  const nearby = isInOrder(form, fields);
  const near = (ms: number, compared: (text: Fragment) => Fragment) => {
    if (!nearby || ms <= FIRST_MS || ms >= END_MS) return null;
    return compared(valueOf(spelledWhole(local, fields, ms)));
  };
  return {
    ...plain,
    valid,
    from: (ms) => {
      const found = near(ms - MS_PER_DAY, (text) => sql`${column} >= ${text}`);
      const exact = sql`${moment} >= ${valueOf(ms)}`;
      return found === null ? exact : sql`(${found} AND ${exact})`;
    },
    before: (ms) => {
      const found = near(ms + MS_PER_DAY, (text) => sql`${column} < ${text}`);
      const exact = sql`${moment} < ${valueOf(ms)}`;
      return found === null ? exact : sql`(${found} AND ${exact})`;
    },
    onDays: () => null,
    listsUpTo: 0,
    closed: { from: null, before: null },
    order: moment,
    scale: null,
    millis: dated,
    msOf: Number,
    keepsOrder: false,
    isFiner: true,
    orderKey: null,
  };
}

/** The first date whose year has four digits. */
const FIRST_NUMBER_MS = dayNumber(1000, 1, 1) * MS_PER_DAY;

function fieldsOf(form: FixedForm): readonly FixedField[] {
  return FIXED_FIELDS.filter((field) => form.places.has(field));
}

/** How bounds are found among strings of a form: at what is the finest that they can tell. */
function boundsOf(form: FixedForm, { kind }: CompiledReading) {
  const finest = fieldsOf(form).at(-1) ?? "day";
  const tick = kind === "date" ? MS_PER_DAY : TICKS[finest];
  const bound = (ms: number, compared: (point: number) => Fragment, isFrom: boolean) => {
    const point = Math.ceil(ms / tick) * tick;
    if (point <= FIRST_MS) return isFrom ? "all" : "none";
    if (point >= END_MS) return isFrom ? "none" : "all";
    return compared(point);
  };
  return { bound, isDays: finest === "day" };
}

interface FixedStrings extends EncodedDates {
  /** Milliseconds of the wall clock with its time of day, also of the kind `date`. */
  readonly millisOfDay: Fragment;
}

function fixedStrings(column: Fragment, form: FixedForm, compiled: CompiledReading): FixedStrings {
  const { kind } = compiled;
  const fields = fieldsOf(form);
  const { bound, isDays } = boundsOf(form, compiled);
  const part = (field: FixedField) => partOf(column, form, field);
  const keepsOrder = isInOrder(form, fields);
  const key: Fragment = { kind: "concat", of: fields.map(part) };
  const order = keepsOrder ? column : key;
  const spell = (ms: number) =>
    keepsOrder ? spelledWhole(form, fields, ms) : spelledKey(fields, ms);
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
    from: (ms) => bound(ms, (point) => sql`${order} >= ${valueOf(spell(point))}`, true),
    before: (ms) => bound(ms, (point) => sql`${order} < ${valueOf(spell(point))}`, false),
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
    millisOfDay: millis,
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
