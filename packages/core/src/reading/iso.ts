import {
  FIRST_YEAR,
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_MINUTE,
  MS_PER_SECOND,
  dayNumber,
  dayStart,
  daysInMonth,
  daysInYear,
  digits,
  firstMonday,
  isLeapYear,
  isoDay,
  isoMonth,
  isoTime,
  monthName,
  wallMs,
  weeksInYear,
  type WallMs,
} from "../calendar/index.js";
import { failure, fault, success, type Result } from "../faults/index.js";

/** How finely a date value is written; what it covers is one of these long. */
export type Precision =
  | "year"
  | "quarter"
  | "month"
  | "week"
  | "day"
  | "hour"
  | "minute"
  | "second"
  | "millisecond";

/** A date value as written: the interval of the wall clock that it names, and its offset. */
export interface WrittenDate {
  readonly precision: Precision;
  readonly start: WallMs;
  /** Exclusive. */
  readonly end: WallMs;
  /** Milliseconds ahead of UTC where an offset or `Z` was written, else null. */
  readonly offset: number | null;
  /** The one spelling that Orisma writes for this value; reads back as the same value. */
  readonly canonical: string;
}

const WRITTEN =
  /^(\d{4})(?:-(?:(\d{2})(?:-(\d{2}))?|(\d{3})|W(\d{2})(?:-(\d))?|Q(\d)))?(?:T(\d{2})(?::(\d{2})(?::(\d{2})(?:[.,](\d{1,9}))?)?)?)?(Z|[+-]\d{2}(?::?\d{2})?)?$/i;

/**
 * Reads a date written as ISO 8601, at any precision from a year to a millisecond.
 *
 * Takes calendar dates, ordinal dates, week dates, quarters (this project's own `2024-Q1`)
 * and a time of day after any form that names a day; the digits of a fraction beyond the
 * millisecond are cut. Years 0001 to 9999.
 *
 * Fails with `date.form`, `date.impossible` (a day that the calendar lacks),
 * `date.ambiguous` and `date.order` (`03/04/2024`, `13/04/2024`), `date.offsetRefused`.
 *
 * @see ISO 8601-1:2019, 5.2 and 5.3
 * @example readIsoDate("2024-02") // February 2024: start 2024-02-01, end 2024-03-01
 */
export function readIsoDate(text: string): Result<WrittenDate> {
  const match = WRITTEN.exec(text);
  if (match === null) return failure(explainForm(text));
  const [
    ,
    year,
    month,
    day,
    ordinal,
    week,
    weekDay,
    quarter,
    hour,
    minute,
    second,
    fraction,
    zone,
  ] = match;
  const dated = datePart(text, {
    year: Number(year),
    month: numberOrNull(month),
    day: numberOrNull(day),
    ordinal: numberOrNull(ordinal),
    week: numberOrNull(week),
    weekDay: numberOrNull(weekDay),
    quarter: numberOrNull(quarter),
  });
  if (!dated.ok) return dated;
  if (hour === undefined) {
    if (zone !== undefined) return failure(fault("date.offsetRefused", { text }, { value: text }));
    return success({ ...dated.value, offset: null });
  }
  if (dated.value.precision !== "day")
    return failure(fault("date.form", { text }, { value: text }));
  return timePart(text, dated.value, { hour, minute, second, fraction, zone });
}

interface DateFields {
  readonly year: number;
  readonly month: number | null;
  readonly day: number | null;
  readonly ordinal: number | null;
  readonly week: number | null;
  readonly weekDay: number | null;
  readonly quarter: number | null;
}

type DatePart = Omit<WrittenDate, "offset">;

function datePart(text: string, fields: DateFields): Result<DatePart> {
  const { year, month, day, ordinal, week, weekDay, quarter } = fields;
  if (year < FIRST_YEAR) return impossible(text, "years run from 0001 to 9999");
  if (ordinal !== null) {
    const length = daysInYear(year);
    if (ordinal < 1 || ordinal > length) return impossible(text, `${year} has ${length} days`);
    return success(wholeDay(dayNumber(year, 1, 1) + ordinal - 1));
  }
  if (week !== null) {
    const weeks = weeksInYear(year);
    if (week < 1 || week > weeks) return impossible(text, `${year} has ${weeks} weeks`);
    const monday = firstMonday(year) + (week - 1) * 7;
    if (weekDay === null) {
      return success(days("week", monday, monday + 7, `${digits(year, 4)}-W${digits(week, 2)}`));
    }
    if (weekDay < 1 || weekDay > 7) return impossible(text, "the days of a week are 1 to 7");
    return success(wholeDay(monday + weekDay - 1));
  }
  if (quarter !== null) {
    if (quarter < 1 || quarter > 4) return impossible(text, "the quarters of a year are 1 to 4");
    const from = dayNumber(year, quarter * 3 - 2, 1);
    const to = dayNumber(year, quarter * 3 + 1, 1);
    return success(days("quarter", from, to, `${digits(year, 4)}-Q${quarter}`));
  }
  if (month === null) {
    return success(days("year", dayNumber(year, 1, 1), dayNumber(year + 1, 1, 1), digits(year, 4)));
  }
  const reason = monthAndDayReason(year, month, day ?? 1);
  if (reason !== null) return impossible(text, reason);
  if (day !== null) return success(wholeDay(dayNumber(year, month, day)));
  const canonical = isoMonth(year, month);
  return success(
    days("month", dayNumber(year, month, 1), dayNumber(year, month + 1, 1), canonical),
  );
}

/** Why a month and day do not exist in a year, or null where they do. */
export function monthAndDayReason(year: number, month: number, day: number): string | null {
  if (month < 1 || month > 12) return `there is no month ${month}`;
  const length = daysInMonth(year, month);
  if (day >= 1 && day <= length) return null;
  const why = month === 2 && !isLeapYear(year) && day === 29 ? ", not being a leap year" : "";
  return `${monthName(month)} ${year} has ${length} days${why}`;
}

function timePart(
  text: string,
  day: DatePart,
  written: {
    readonly hour: string;
    readonly minute: string | undefined;
    readonly second: string | undefined;
    readonly fraction: string | undefined;
    readonly zone: string | undefined;
  },
): Result<WrittenDate> {
  const hour = Number(written.hour);
  const minute = Number(written.minute ?? 0);
  const second = Number(written.second ?? 0);
  const fraction = Number((written.fraction ?? "").slice(0, 3).padEnd(3, "0"));
  if (hour === 24 && minute === 0 && second === 0 && fraction === 0) {
    const next = isoDay(day.end / MS_PER_DAY);
    return impossible(text, `a day ends where the next begins: write ${next}T00:00`);
  }
  if (hour > 23) return impossible(text, "the hours of a day are 00 to 23");
  if (minute > 59) return impossible(text, "the minutes of an hour are 00 to 59");
  if (second > 59) return impossible(text, "the seconds of a minute are 00 to 59");
  const offset = offsetPart(written.zone);
  if (Number.isNaN(offset)) return impossible(text, "a UTC offset runs from -23:59 to +23:59");

  const precision = timePrecision(written);
  const start = wallMs(
    day.start + hour * MS_PER_HOUR + minute * MS_PER_MINUTE + second * MS_PER_SECOND + fraction,
  );
  const end = wallMs(start + LENGTH[precision]);
  return success({
    precision,
    start,
    end,
    offset,
    canonical: day.canonical + "T" + timeText(start - day.start, precision) + offsetText(offset),
  });
}

type TimePrecision = "hour" | "minute" | "second" | "millisecond";

const LENGTH: Record<TimePrecision, number> = {
  hour: MS_PER_HOUR,
  minute: MS_PER_MINUTE,
  second: MS_PER_SECOND,
  millisecond: 1,
};

function timePrecision(written: {
  readonly minute: string | undefined;
  readonly second: string | undefined;
  readonly fraction: string | undefined;
}): TimePrecision {
  if (written.fraction !== undefined) return "millisecond";
  if (written.second !== undefined) return "second";
  return written.minute !== undefined ? "minute" : "hour";
}

function timeText(msOfDay: number, precision: TimePrecision): string {
  const seconds = isoTime(msOfDay);
  switch (precision) {
    case "hour":
      return seconds.slice(0, 2);
    case "minute":
      return seconds.slice(0, 5);
    case "second":
      return seconds.slice(0, 8);
    case "millisecond":
      return seconds.length > 8 ? seconds : `${seconds}.000`;
  }
}

/** Milliseconds ahead of UTC, null where none is written, NaN where it is no offset. */
function offsetPart(zone: string | undefined): number | null {
  if (zone === undefined) return null;
  if (zone.toUpperCase() === "Z") return 0;
  const hours = Number(zone.slice(1, 3));
  const minutes = Number(zone.slice(3).replace(":", "") || 0);
  if (hours > 23 || minutes > 59) return NaN;
  return (zone.startsWith("-") ? -1 : 1) * (hours * MS_PER_HOUR + minutes * MS_PER_MINUTE);
}

/** A UTC offset in milliseconds as it is written: `Z`, `+01:00`; nothing for none. */
export function offsetText(offset: number | null): string {
  if (offset === null) return "";
  if (offset === 0) return "Z";
  const size = Math.abs(offset);
  const hours = Math.floor(size / MS_PER_HOUR);
  const minutes = (size % MS_PER_HOUR) / MS_PER_MINUTE;
  return `${offset < 0 ? "-" : "+"}${digits(hours, 2)}:${digits(minutes, 2)}`;
}

function wholeDay(number: number): DatePart {
  return days("day", number, number + 1, isoDay(number));
}

function days(precision: Precision, from: number, to: number, canonical: string): DatePart {
  return { precision, start: dayStart(from), end: dayStart(to), canonical };
}

function impossible(text: string, reason: string): Result<never> {
  return failure(fault("date.impossible", { text, reason }, { value: text }));
}

function numberOrNull(text: string | undefined): number | null {
  return text === undefined ? null : Number(text);
}

const SLASHED = /^(\d{1,2})([/.-])(\d{1,2})\2(\d{4})$/;

/** What most likely went wrong with a text that is not ISO 8601; never what it means. */
function explainForm(text: string): ReturnType<typeof fault> {
  const place = { value: text };
  const match = SLASHED.exec(text);
  if (match === null) return fault("date.form", { text }, place);
  const [first, second, year] = [Number(match[1]), Number(match[3]), Number(match[4])];
  const dayFirst = year >= FIRST_YEAR && monthAndDayReason(year, second, first) === null;
  const monthFirst = year >= FIRST_YEAR && monthAndDayReason(year, first, second) === null;
  const asDayFirst = () => isoDay(dayNumber(year, second, first));
  const asMonthFirst = () => isoDay(dayNumber(year, first, second));
  if (dayFirst && monthFirst && first !== second) {
    return fault(
      "date.ambiguous",
      { text, dayFirst: asDayFirst(), monthFirst: asMonthFirst() },
      place,
    );
  }
  if (dayFirst) return fault("date.order", { text, meant: asDayFirst() }, place);
  if (monthFirst) return fault("date.order", { text, meant: asMonthFirst() }, place);
  return fault("date.impossible", { text, reason: slashedReason(first, second, year) }, place);
}

function slashedReason(first: number, second: number, year: number): string {
  if (year < FIRST_YEAR) return "years run from 0001 to 9999";
  const dayFirst = monthAndDayReason(year, second, first) ?? "";
  const monthFirst = monthAndDayReason(year, first, second) ?? "";
  return dayFirst === monthFirst || second <= 12
    ? dayFirst
    : first <= 12
      ? monthFirst
      : `${dayFirst}, nor a month ${first}`;
}
