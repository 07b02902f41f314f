import {
  MS_PER_DAY,
  MS_PER_HOUR,
  civilDay,
  dayNumber,
  daysInMonth,
  daysInYear,
  wallAt,
  wallMs,
  weekday,
  type Edge,
  type EpochMs,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import type { NumberSpan, Recurring, WeekdaySpan } from "./notation.js";
import { edgeAt } from "./edge.js";
import type { WeekRules } from "./settings.js";

/** An interval of the wall clock in milliseconds from 1970-01-01T00:00; the end is not in it. */
export interface WallSpan {
  readonly start: number;
  readonly end: number;
}

/** Whether the recurring parts let a day in; hours are looked at apart. */
export function dayMatcher(
  rules: readonly Recurring[],
  calendar: WeekRules,
): (day: number) => boolean {
  const tests = rules.flatMap((rule) => {
    const test = dayTest(rule, calendar);
    return test === null ? [] : [test];
  });
  return (day) => {
    const civil = civilDay(day);
    return tests.every((test) => test(day, civil.year, civil.month, civil.day));
  };
}

type DayTest = (day: number, year: number, month: number, ofMonth: number) => boolean;

function dayTest(rule: Recurring, calendar: WeekRules): DayTest | null {
  switch (rule.name) {
    case "BYMONTH":
      return (_, __, month) => isIn(rule.spans, month, 12);
    case "BYMONTHDAY":
      return (_, year, month, day) => isIn(rule.spans, day, daysInMonth(year, month));
    case "BYYEARDAY":
      return (day, year) => isIn(rule.spans, day - dayNumber(year, 1, 1) + 1, daysInYear(year));
    case "BYWEEKNO":
      return (day) => {
        const { number, weeks } = weekNumber(day, calendar);
        return isIn(rule.spans, number, weeks);
      };
    case "BYDAY":
      return (day, year, month, ofMonth) =>
        rule.spans.some((span) => isWeekday(span, weekday(day), ofMonth, daysInMonth(year, month)));
    case "BYHOUR":
      return null;
  }
}

/** Whether a number lies in one of some spans; `size` is what negative ones count from. */
function isIn(spans: readonly NumberSpan[], value: number, size: number): boolean {
  return spans.some(({ from, to }) => {
    const [first, last] = from < 0 ? [size + 1 + from, size + 1 + to] : [from, to];
    // Compared as they were written: a range wraps only where it was written to.
    return from <= to ? value >= first && value <= last : value >= first || value <= last;
  });
}

function isWeekday(span: WeekdaySpan, day: number, ofMonth: number, length: number): boolean {
  if (span.nth === null) return isIn([span], day, 7);
  if (day !== span.from) return false;
  const place = span.nth > 0 ? Math.ceil(ofMonth / 7) : -Math.ceil((length - ofMonth + 1) / 7);
  return place === span.nth;
}

/** The number of the week in which a day lies, and how many weeks its year has. */
export function weekNumber(day: number, calendar: WeekRules) {
  const { year } = civilDay(day);
  const around =
    [year + 1, year, year - 1].find((each) => firstWeek(each, calendar) <= day) ?? year;
  const first = firstWeek(around, calendar);
  return {
    year: around,
    number: Math.floor((day - first) / 7) + 1,
    weeks: (firstWeek(around + 1, calendar) - first) / 7,
  };
}

/** The day on which week 1 of a year begins: the first with enough days in the year. */
function firstWeek(year: number, { weekStart, firstWeekDays }: WeekRules): number {
  const day = dayNumber(year, 1, firstWeekDays);
  return day - ((weekday(day) - weekStart + 7) % 7);
}

/** The hours that the recurring parts let in, as intervals of a day; all of it without any. */
function hoursOf(rules: readonly Recurring[]): readonly WallSpan[] {
  const hours = rules.find(({ name }) => name === "BYHOUR");
  if (hours?.name !== "BYHOUR") return [{ start: 0, end: MS_PER_DAY }];
  return Array.from({ length: 24 }, (_, hour) => hour)
    .filter((hour) => isIn(hours.spans, hour, 24))
    .map((hour) => ({ start: hour * MS_PER_HOUR, end: (hour + 1) * MS_PER_HOUR }));
}

/** What came of laying recurring parts over an interval. */
export interface Expanded {
  readonly spans: readonly WallSpan[];
  /** Whether there are more than are listed. */
  readonly isCut: boolean;
}

/**
 * The intervals within another in which the recurring parts hold, neighbours joined; at most so
 * many are listed. Months that are not let in are passed over whole.
 */
export function expand(
  rules: readonly Recurring[],
  within: WallSpan,
  calendar: WeekRules,
  most: number,
): Expanded {
  const isDay = dayMatcher(rules, calendar);
  const months = rules.find(({ name }) => name === "BYMONTH");
  const hours = hoursOf(rules);
  const spans: { start: number; end: number }[] = [];
  for (let day = Math.floor(within.start / MS_PER_DAY); day * MS_PER_DAY < within.end; day++) {
    if (months?.name === "BYMONTH") {
      const { year, month } = civilDay(day);
      if (!isIn(months.spans, month, 12)) {
        day = dayNumber(year, month + 1, 1) - 1;
        continue;
      }
    }
    if (!isDay(day)) continue;
    for (const hour of hours) {
      const start = Math.max(within.start, day * MS_PER_DAY + hour.start);
      const end = Math.min(within.end, day * MS_PER_DAY + hour.end);
      if (start >= end) continue;
      const last = spans.at(-1);
      if (last?.end === start) last.end = end;
      else if (spans.length === most) return { spans, isCut: true };
      else spans.push({ start, end });
    }
  }
  return { spans, isCut: false };
}

/** Whether the recurring parts let in any day of the calendar, which repeats in 400 years. */
export function canMatch(rules: readonly Recurring[], calendar: WeekRules): boolean {
  const whole = {
    start: dayNumber(2000, 1, 1) * MS_PER_DAY,
    end: dayNumber(2400, 1, 1) * MS_PER_DAY,
  };
  return expand(rules, whole, calendar, 1).spans.length > 0;
}

/** An interval with both of its ends. */
export interface ClosedInterval {
  readonly start: Edge;
  readonly end: Edge;
}

/**
 * The intervals within another in which the recurring parts hold. Days and hours lie side by side:
 * where the clocks show the beginning of one twice, it begins the first time.
 */
export function recurringIntervals(
  rules: readonly Recurring[],
  { start, end }: ClosedInterval,
  zone: Zone,
  calendar: WeekRules,
  most: number,
): { readonly intervals: readonly Interval[]; readonly isCut: boolean } {
  const { spans, isCut } = expand(rules, { start: start.wall, end: end.wall }, calendar, most);
  const at = (wall: number) => edgeAt(wallMs(wall), zone, "earlier", () => undefined);
  const intervals = spans.map((span) => ({
    start: span.start === start.wall ? start : at(span.start),
    end: span.end === end.wall ? end : at(span.end),
  }));
  return { intervals, isCut };
}

/**
 * The wall clock at a point in time, as days and hours lie side by side: in an hour that the
 * clocks show again after the next had begun, it is that next one's beginning.
 */
export function constantOffsetWall(instant: EpochMs, zone: Zone): number {
  let wall: number = wallAt(zone, instant);
  for (;;) {
    const next = (Math.floor(wall / MS_PER_HOUR) + 1) * MS_PER_HOUR;
    if (edgeAt(wallMs(next), zone, "earlier", () => undefined).instant > instant) return wall;
    wall = next;
  }
}

/** Whether the recurring parts hold at a time on the wall clock. */
export function holdsAt(rules: readonly Recurring[], wall: number, calendar: WeekRules): boolean {
  const day = Math.floor(wall / MS_PER_DAY);
  if (!dayMatcher(rules, calendar)(day)) return false;
  const time = wall - day * MS_PER_DAY;
  return hoursOf(rules).some(({ start, end }) => time >= start && time < end);
}
