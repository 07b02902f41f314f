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
  const isDay = civilMatcher(rules, calendar);
  return (day) => {
    const civil = civilDay(day);
    return isDay(day, civil.year, civil.month, civil.day);
  };
}

function civilMatcher(rules: readonly Recurring[], calendar: WeekRules): DayTest {
  const tests = rules.flatMap((rule) => {
    const test = dayTest(rule, calendar);
    return test === null ? [] : [test];
  });
  return (day, year, month, ofMonth) => {
    for (const test of tests) if (!test(day, year, month, ofMonth)) return false;
    return true;
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
  let { year } = civilDay(day);
  let [first, next] = [firstWeek(year, calendar), firstWeek(year + 1, calendar)];
  if (day < first) {
    year--;
    [first, next] = [firstWeek(year, calendar), first];
  } else if (day >= next) {
    year++;
    [first, next] = [next, firstWeek(year + 1, calendar)];
  }
  return { year, number: Math.floor((day - first) / 7) + 1, weeks: (next - first) / 7 };
}

/** The day on which week 1 of a year begins: the first with enough days in the year. */
function firstWeek(year: number, { weekStart, firstWeekDays }: WeekRules): number {
  const day = dayNumber(year, 1, firstWeekDays);
  return day - ((weekday(day) - weekStart + 7) % 7);
}

/** The hours that the recurring parts let in, as intervals of a day, neighbours joined; all of it without any. */
function hoursOf(rules: readonly Recurring[]): readonly WallSpan[] {
  const hours = rules.find(({ name }) => name === "BYHOUR");
  if (hours?.name !== "BYHOUR") return [{ start: 0, end: MS_PER_DAY }];
  const spans: WallSpan[] = [];
  for (let hour = 0; hour < 24; hour++) {
    if (!isIn(hours.spans, hour, 24)) continue;
    append(spans, { start: hour * MS_PER_HOUR, end: (hour + 1) * MS_PER_HOUR });
  }
  return spans;
}

/** Adds an interval that comes after all others, to the last of them where the two touch. */
function append(spans: WallSpan[], next: WallSpan): void {
  const last = spans.at(-1);
  if (last?.end === next.start) spans[spans.length - 1] = { start: last.start, end: next.end };
  else spans.push(next);
}

/** Days on end, counted from the first of their year; the last is not among them. */
interface DayRun {
  readonly from: number;
  readonly to: number;
}

/**
 * The days of a year that the recurring parts let in. Years that begin on the same weekday, are
 * alike in length and have neighbours of like lengths have the same: each day is looked at in some
 * thirty years, however long the window is.
 */
function runsOfYears(
  rules: readonly Recurring[],
  calendar: WeekRules,
): (year: number) => readonly DayRun[] {
  const isDay = civilMatcher(rules, calendar);
  const known = new Map<string, readonly DayRun[]>();
  return (year) => {
    const first = dayNumber(year, 1, 1);
    const lengths = [year - 1, year, year + 1].map(daysInYear);
    const kind = [weekday(first), ...lengths].join();
    const before = known.get(kind);
    if (before !== undefined) return before;
    const runs: { from: number; to: number }[] = [];
    let day = 0;
    for (let month = 1; month <= 12; month++) {
      const length = daysInMonth(year, month);
      for (let ofMonth = 1; ofMonth <= length; ofMonth++, day++) {
        if (!isDay(first + day, year, month, ofMonth)) continue;
        const last = runs.at(-1);
        if (last?.to === day) last.to++;
        else runs.push({ from: day, to: day + 1 });
      }
    }
    known.set(kind, runs);
    return runs;
  };
}

/** What came of laying recurring parts over an interval. */
export interface Expanded {
  readonly spans: readonly WallSpan[];
  /** Whether there are more than are listed. */
  readonly isCut: boolean;
}

/**
 * The intervals within another in which the recurring parts hold, neighbours joined; at most so
 * many are listed.
 */
export function expand(
  rules: readonly Recurring[],
  within: WallSpan,
  calendar: WeekRules,
  most: number,
): Expanded {
  const spans: WallSpan[] = [];
  for (const span of spansOf(rules, within, calendar)) {
    append(spans, span);
    if (spans.length > most) return { spans: spans.slice(0, most), isCut: true };
  }
  return { spans, isCut: false };
}

/** The same in pieces that may touch, in order. */
function* spansOf(
  rules: readonly Recurring[],
  within: WallSpan,
  calendar: WeekRules,
): Generator<WallSpan> {
  const runsOf = runsOfYears(rules, calendar);
  const hours = hoursOf(rules);
  const isWholeDays = hours.length === 1 && hours[0]?.end === MS_PER_DAY && hours[0].start === 0;
  const firstDay = Math.floor(within.start / MS_PER_DAY);
  const endDay = Math.ceil(within.end / MS_PER_DAY);
  for (let { year } = civilDay(firstDay); dayNumber(year, 1, 1) < endDay; year++) {
    const newYear = dayNumber(year, 1, 1);
    for (const run of runsOf(year)) {
      const from = Math.max(firstDay, newYear + run.from);
      const to = Math.min(endDay, newYear + run.to);
      if (isWholeDays) {
        yield* clipped({ start: from * MS_PER_DAY, end: to * MS_PER_DAY }, within);
        continue;
      }
      for (let day = from; day < to; day++) {
        const midnight = day * MS_PER_DAY;
        for (const { start, end } of hours) {
          yield* clipped({ start: midnight + start, end: midnight + end }, within);
        }
      }
    }
  }
}

/** What of an interval lies in another: one or none. */
function clipped(span: WallSpan, within: WallSpan): readonly WallSpan[] {
  const start = Math.max(within.start, span.start);
  const end = Math.min(within.end, span.end);
  return start < end ? [{ start, end }] : [];
}

/** Whether the recurring parts let in any day of the calendar, which repeats in 400 years. */
export function canMatch(rules: readonly Recurring[], calendar: WeekRules): boolean {
  const whole = {
    start: dayNumber(2000, 1, 1) * MS_PER_DAY,
    end: dayNumber(2400, 1, 1) * MS_PER_DAY,
  };
  return holdsWithin(rules, whole, calendar);
}

/** Days that are looked at one by one; in more of them the kinds of years are. */
const DAYS_ONE_BY_ONE = 60;

/** Whether the recurring parts hold at any time of an interval of the wall clock. */
export function holdsWithin(
  rules: readonly Recurring[],
  within: WallSpan,
  calendar: WeekRules,
): boolean {
  const firstDay = Math.floor(within.start / MS_PER_DAY);
  const endDay = Math.ceil(within.end / MS_PER_DAY);
  if (endDay - firstDay > DAYS_ONE_BY_ONE) return !spansOf(rules, within, calendar).next().done;
  const isDay = dayMatcher(rules, calendar);
  const hours = hoursOf(rules);
  for (let day = firstDay; day < endDay; day++) {
    const midnight = day * MS_PER_DAY;
    const isIn = ({ start, end }: WallSpan) =>
      midnight + start < within.end && midnight + end > within.start;
    if (hours.some(isIn) && isDay(day)) return true;
  }
  return false;
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
