import { dayOf, isoDay } from "../calendar/index.js";
import { failure, fault, success, type Result } from "../faults/index.js";
import { readIsoDate, type WrittenDate } from "../reading/index.js";
import { withHyphens } from "./hyphens.js";

/** How finely a parameter of dates may be written: whole days and coarser, or any precision. */
export const DATE_PARAMETER_TYPES = ["date", "moment"] as const;
export type DateParameterType = (typeof DATE_PARAMETER_TYPES)[number];

/** What a caller gave for one end. */
export type GivenDate =
  | { readonly kind: "notGiven" }
  /** An explicit `..`: no bound on this side. */
  | { readonly kind: "open" }
  | { readonly kind: "written"; readonly written: WrittenDate };

/** Spellings of "nothing" that forms and platforms send, in lower case. */
const NOT_GIVEN = new Set(["", "null", "undefined"]);
/** The lowest date of several platforms, sent for a date that was never set. */
const LOWEST_DATE = /^0001-01-01(?:T00:00(?::00(?:\.0+)?)?(?:Z|[+-]00:?00)?)?$/i;

/**
 * Reads one date that a caller sent.
 *
 * Empty text, white space, `null`, `undefined` and the platforms' year-1 date are "not
 * given"; `..` is an explicit "no bound". Odd dashes are read as hyphens. A `date` refuses a time
 * of day.
 *
 * Fails with the faults of `readIsoDate` and with `date.timeRefused`.
 *
 * @example readGivenDate("2025-02", "date") // written, the whole of February 2025
 */
export function readGivenDate(raw: string, type: DateParameterType): Result<GivenDate> {
  const text = withHyphens(raw.trim());
  if (NOT_GIVEN.has(text.toLowerCase()) || LOWEST_DATE.test(text)) {
    return success({ kind: "notGiven" });
  }
  if (text === "..") return success({ kind: "open" });
  const read = readIsoDate(text);
  if (!read.ok) return read;
  const written = read.value;
  if (type === "date" && isFinerThanDay(written)) {
    const day = isoDay(dayOf(written.start));
    return failure(fault("date.timeRefused", { text, day }, { value: text }));
  }
  return success({ kind: "written", written });
}

/** Whether a date is written with a time of day. */
export function isFinerThanDay(written: WrittenDate): boolean {
  switch (written.precision) {
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
