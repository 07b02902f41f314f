import { dayOf, isoDay } from "../calendar/index.js";
import {
  failure,
  fault,
  success,
  type Failure,
  type Notice,
  type Result,
} from "../faults/index.js";
import { readIsoDate, type CompiledDateForm, type WrittenDate } from "../reading/index.js";
import { isNothing } from "./fields.js";
import { withHyphens } from "./hyphens.js";
import { partsOf, type Duration, type Part, type Window } from "./notation.js";
import { fromQueryString, readOneDate, readWindow } from "./read.js";

/**
 * What a parameter of dates takes: one date of whole days or coarser, one at any precision, or
 * a whole window.
 */
export const DATE_PARAMETER_TYPES = ["date", "datetime", "window"] as const;
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
  // By far the most is plain ISO 8601, which needs no more than its own reader.
  const plain = text === raw && type !== "window" && form === undefined ? readIsoDate(text) : null;
  if (plain?.ok === true) return partOf(writtenPart(plain.value), [], type, text);
  const formed = type === "window" ? null : (form?.read(text) ?? null);
  if (formed?.ok === false) return formed;
  if (formed !== null) {
    const doubt = form?.doubt(text) ?? null;
    return partOf(writtenPart(formed.value), doubt === null ? [] : [doubt], type, text);
  }
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

/** Whether a text, without white space around it, is one that stands for nothing. */
export function isNotGiven(text: string): boolean {
  return isNothing(text) || LOWEST_DATE.test(text.replace(" ", "T"));
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
