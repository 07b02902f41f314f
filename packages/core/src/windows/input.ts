import { dayOf, isoDay } from "../calendar/index.js";
import {
  failure,
  fault,
  success,
  type Failure,
  type Fault,
  type Notice,
  type Result,
} from "../faults/index.js";
import { readIsoDate, type CompiledDateForm, type WrittenDate } from "../reading/index.js";
import { withHyphens } from "./hyphens.js";
import { partsOf, type Duration, type Part, type Window } from "./notation.js";
import { fromQueryString, readOneDate, readWindow } from "./read.js";

/**
 * What a parameter of dates takes: one date of whole days or coarser, one at any precision, or
 * a whole window.
 */
export const DATE_PARAMETER_TYPES = ["date", "moment", "window"] as const;
export type DateParameterType = (typeof DATE_PARAMETER_TYPES)[number];

/** What a caller gave. */
export type Given =
  | { readonly kind: "notGiven" }
  /** An explicit `..`: no bound. */
  | { readonly kind: "open" }
  | { readonly kind: "part"; readonly part: Part; readonly notices: readonly Notice[] }
  | { readonly kind: "window"; readonly window: Window; readonly notices: readonly Notice[] };

/** How a parameter is read. */
export interface GivenInput {
  /** What faults and notices call it. */
  readonly parameter: string;
  readonly type: DateParameterType;
  /** A form that is read beside ISO 8601 and the notation of windows; none unless declared. */
  readonly form?: CompiledDateForm;
}

/** Spellings of "nothing" that forms and platforms send, in lower case. */
const NOT_GIVEN = new Set(["", "null", "undefined"]);
/** The lowest date of several platforms, sent for a date that was never set. */
const LOWEST_DATE = /^0001-01-01(?:T00:00(?::00(?:\.0+)?)?(?:Z|[+-]00:?00)?)?$/i;
/**
 * Reads what a caller sent for one parameter, as it came in a query string.
 *
 * Empty text, white space, `null`, `undefined` and the platforms' year-1 date are "not given";
 * `..` is an explicit "no bound". A plus or a `T` that became a space is read as it was meant, odd
 * dashes as hyphens. A `date` refuses a time of day; `now` is none.
 *
 * Fails with the faults of {@link readWindow}, with `window.oneDate`, `date.timeRefused`, and
 * `date.pattern` for a text that neither a declared form nor the notation takes.
 *
 * @example readGiven("2025-02", { parameter: "from", type: "date" }) // all of February 2025
 */
export function readGiven(raw: string, input: GivenInput): Result<Given> {
  const text = withHyphens(raw.trim());
  if (isNotGiven(text)) return success({ kind: "notGiven" });
  if (text === "..") return success({ kind: "open" });
  const { parameter, type, form } = input;
  const formed = type === "window" ? null : (form?.read(text) ?? null);
  if (formed?.ok === false) return formed;
  if (formed !== null) return partOf(writtenPart(formed.value), [], type, text);
  const sent = fromQueryString(raw);
  if (type === "window") {
    const read = readWindow(sent, parameter);
    return read.ok ? success({ kind: "window", ...read.value }) : (otherDate(text) ?? read);
  }
  const read = readOneDate(sent, parameter);
  if (read.ok) return partOf(read.value.part, read.value.notices, type, text);
  const other = otherDate(text);
  const neverWas = other?.faults.some(({ code }) => code === "date.impossible") === true;
  if (form !== undefined && /^\d/.test(text) && !neverWas) {
    return failure(fault("date.pattern", { text, patterns: [form.name, "ISO 8601"] }));
  }
  return other ?? read;
}

/** The fault of a text that is a date in another form than ISO 8601, or one that never was. */
function otherDate(text: string): Failure | null {
  const read = readIsoDate(text);
  if (read.ok) return null;
  return read.faults.some(({ code }) => code === "date.form") ? null : read;
}

function isNotGiven(text: string): boolean {
  return NOT_GIVEN.has(text.toLowerCase()) || LOWEST_DATE.test(text.replace(" ", "T"));
}

function partOf(
  part: Part,
  notices: readonly Notice[],
  type: DateParameterType,
  text: string,
): Result<Given> {
  if (type === "date" && isFinerThanDay(part)) {
    const { base } = part;
    const day = base.kind === "written" ? isoDay(dayOf(base.written.start)) : "today";
    return failure(fault("date.timeRefused", { text, day }, { value: text }));
  }
  return success({ kind: "part", part, notices });
}

function writtenPart(written: WrittenDate): Part {
  return { base: { kind: "written", written }, shifts: [], text: written.canonical };
}

/** Whether a part has a time of day; `now` has none, and is a moment only where moments count. */
export function isFinerThanDay({ base, shifts }: Part): boolean {
  if (shifts.some(({ duration }) => hasTime(duration))) return true;
  switch (base.kind) {
    case "now":
      return false;
    case "unit":
      return base.unit === "minute" || base.unit === "hour";
    case "written":
      return isTimeOfDay(base.written.precision);
  }
}

/** The first piece of a window that has a time of day, as it is written; null for none. */
export function timeOfDayIn({ alternatives }: Window): string | null {
  for (const { range, recurring } of alternatives) {
    const hours = recurring.find(({ name }) => name === "BYHOUR");
    if (hours !== undefined) return hours.name;
    const finer = partsOf(range).find(isFinerThanDay);
    if (finer !== undefined) return finer.text;
    if ((range.kind === "lengthAfter" || range.kind === "lengthBefore") && hasTime(range.length)) {
      return "a length of hours";
    }
  }
  return null;
}

function hasTime({ elapsedMs }: Duration): boolean {
  return elapsedMs !== 0;
}

/** Whether a precision is finer than a day. */
export function isTimeOfDay(precision: WrittenDate["precision"]): boolean {
  switch (precision) {
    case "hour":
    case "minute":
    case "second":
    case "millisecond":
      return true;
    case "year":
    case "quarter":
    case "month":
    case "week":
    case "day":
      return false;
  }
}

/** The parts of a date that can be parameters of their own. */
export const DATE_FIELDS = ["year", "month", "day"] as const;
export type DateField = (typeof DATE_FIELDS)[number];

/** A field that was sent: the parameter that carried it, and its text. */
export interface SentField {
  readonly parameter: string;
  readonly raw: string;
}

const FIELD_LIMITS: Readonly<Record<DateField, readonly [least: number, most: number]>> = {
  year: [1, 9_999],
  month: [1, 12],
  day: [1, 31],
};

const FIELD_ACCEPTED: Readonly<Record<DateField, string>> = {
  year: "a year of four digits, such as 2025",
  month: "a month, 1 to 12",
  day: "a day, 1 to 31",
};

/**
 * The date that a year, a month and a day name together, as ISO 8601 text at the precision that
 * was sent: without a day it is the month, without a month the year; null where nothing was sent.
 * A month is read with or without a zero before it.
 *
 * Fails with `field.value`, which tells where two seem to be exchanged, and `field.missing` for a
 * month without its year or a day without its month.
 */
export function dateOfFields(
  sent: Readonly<Partial<Record<DateField, SentField>>>,
): Result<string | null> {
  const faults: Fault[] = [];
  const values: Partial<Record<DateField, string>> = {};
  for (const field of DATE_FIELDS) {
    const { parameter, raw } = sent[field] ?? { parameter: field, raw: "" };
    const text = raw.trim();
    if (NOT_GIVEN.has(text.toLowerCase())) continue;
    if (isField(field, text)) values[field] = text.padStart(field === "year" ? 4 : 2, "0");
    else {
      const other = DATE_FIELDS.find(
        (each) =>
          each !== field && isField(each, text) && isField(field, (sent[each]?.raw ?? "").trim()),
      );
      const facts = { name: field, accepted: FIELD_ACCEPTED[field], fits: other ?? null };
      faults.push(fault("field.value", facts, { parameter, value: raw }));
    }
  }
  if (faults.length > 0) return failure(...faults);
  const { year, month, day } = values;
  const missing = (field: DateField, needs: DateField) => {
    const { parameter, raw } = sent[field] ?? { parameter: field, raw: "" };
    const facts = { name: parameter, needs: sent[needs]?.parameter ?? needs };
    return failure(fault("field.missing", facts, { parameter, value: raw }));
  };
  if (day !== undefined && month === undefined) return missing("day", "month");
  if (month !== undefined && year === undefined) return missing("month", "year");
  const parts = [year, month, day].filter((part) => part !== undefined);
  return success(parts.length === 0 ? null : parts.join("-"));
}

function isField(field: DateField, text: string): boolean {
  const [least, most] = FIELD_LIMITS[field];
  const isDigits = field === "year" ? /^\d{4}$/.test(text) : /^\d{1,2}$/.test(text);
  return isDigits && Number(text) >= least && Number(text) <= most;
}
