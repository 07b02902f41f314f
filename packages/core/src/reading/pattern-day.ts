import {
  FIRST_YEAR,
  LAST_YEAR,
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_MINUTE,
  MS_PER_SECOND,
  civilDay,
  dayNumber,
  dayOf,
  daysInYear,
  firstMonday,
  longDay,
  wallMs,
  weekday,
  weeksInYear,
  type WallMs,
} from "../calendar/index.js";
import { monthAndDayReason } from "./iso.js";
import type { Field } from "./pattern-text.js";

/** What a text gave for each field of a pattern. */
export type DateValues = Partial<Record<Exclude<Field, "zone">, number>> & {
  /** The IANA name of a zone, in any letter case. */
  zone?: string;
};

/**
 * The wall-clock time that the fields of a text name, or why there is none: an impossible day,
 * or fields that disagree (a weekday or quarter that is not the day's own).
 */
export function dateOf(values: DateValues): WallMs | string {
  if (values.era === 0) return "years before the year 1 of our era are no dates here";
  const day =
    values.dayOfYear !== undefined
      ? byDayOfYear(values)
      : values.week !== undefined
        ? byWeek(values)
        : byMonth(values);
  if (typeof day === "string") return day;
  const disagreement = disagreementOf(day, values);
  if (disagreement !== null) return disagreement;
  const time = timeOf(values);
  return typeof time === "string" ? time : wallMs(day * MS_PER_DAY + time);
}

/** A text without a month or a day, which its pattern allows, names the first. */
function byMonth({ year = 0, quarter, ...values }: DateValues): number | string {
  const { month = quarter === undefined ? 1 : quarter * 3 - 2, day = 1 } = values;
  return yearReason(year) ?? monthAndDayReason(year, month, day) ?? dayNumber(year, month, day);
}

function byDayOfYear({ year = 0, dayOfYear = 0 }: DateValues): number | string {
  const reason = yearReason(year);
  if (reason !== null) return reason;
  const length = daysInYear(year);
  return dayOfYear >= 1 && dayOfYear <= length
    ? dayNumber(year, 1, 1) + dayOfYear - 1
    : `${year} has ${length} days`;
}

function byWeek({
  weekYear = 0,
  week = 0,
  weekday: number,
  weekdayName,
}: DateValues): number | string {
  const reason = yearReason(weekYear);
  if (reason !== null) return reason;
  const weeks = weeksInYear(weekYear);
  if (week < 1 || week > weeks) return `${weekYear} has ${weeks} weeks`;
  const dayOfWeek = number ?? weekdayName ?? 0;
  if (dayOfWeek < 1 || dayOfWeek > 7) return "the days of a week are 1 to 7";
  return firstMonday(weekYear) + (week - 1) * 7 + dayOfWeek - 1;
}

function yearReason(year: number): string | null {
  return year >= FIRST_YEAR && year <= LAST_YEAR ? null : "years run from 0001 to 9999";
}

const WEEKDAYS = ["Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday"];

function disagreementOf(
  day: number,
  { weekdayName, weekday: number, quarter }: DateValues,
): string | null {
  const own = weekday(day);
  if ((weekdayName ?? own) !== own || (number ?? own) !== own) {
    return `${longDay(day)} is a ${WEEKDAYS[own - 1] ?? ""}`;
  }
  const ownQuarter = Math.ceil(civilDay(day).month / 3);
  return (quarter ?? ownQuarter) === ownQuarter
    ? null
    : `${longDay(day)} lies in quarter ${ownQuarter}`;
}

function timeOf(values: DateValues): number | string {
  const { hour12, half = 0, minute = 0, second = 0, fraction = 0, offset = 0 } = values;
  if (hour12 !== undefined && (hour12 < 1 || hour12 > 12))
    return "the hours of half a day are 1 to 12";
  const hour = hour12 === undefined ? (values.hour ?? 0) : (hour12 % 12) + half * 12;
  if (hour > 23) return "the hours of a day are 00 to 23";
  if (minute > 59) return "the minutes of an hour are 00 to 59";
  if (second > 59) return "the seconds of a minute are 00 to 59";
  if (Number.isNaN(offset)) return "a UTC offset runs from -23:59 to +23:59";
  return hour * MS_PER_HOUR + minute * MS_PER_MINUTE + second * MS_PER_SECOND + fraction;
}

/** The last day of some months from the one that begins at a wall-clock time on. */
export function lastDayOf(wall: WallMs, months: number): WallMs {
  const { year, month } = civilDay(dayOf(wall));
  return wallMs((dayNumber(year, month + months, 1) - 1) * MS_PER_DAY);
}

/** Every field of a wall-clock time. */
export function civilOf(wall: WallMs) {
  const number = dayOf(wall);
  const { year, month, day } = civilDay(number);
  const time = wall - number * MS_PER_DAY;
  const hour = Math.floor(time / MS_PER_HOUR);
  const weekYear = civilDay(number - weekday(number) + 4).year;
  return {
    year,
    month,
    day,
    dayOfYear: number - dayNumber(year, 1, 1) + 1,
    quarter: Math.ceil(month / 3),
    weekYear,
    week: Math.floor((number - firstMonday(weekYear)) / 7) + 1,
    weekday: weekday(number),
    hour,
    hour12: hour % 12 === 0 ? 12 : hour % 12,
    half: hour < 12 ? 0 : 1,
    minute: Math.floor(time / MS_PER_MINUTE) % 60,
    second: Math.floor(time / MS_PER_SECOND) % 60,
    fraction: time % MS_PER_SECOND,
  };
}
