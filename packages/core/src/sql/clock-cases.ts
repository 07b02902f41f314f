import { MS_PER_DAY, MS_PER_MINUTE, type ClockYear } from "../calendar/index.js";
import { dateField, joined, numeral, sql, workedOnce, type Fragment } from "./fragment.js";

/** What a clock has from a point on, in milliseconds. */
export interface Step {
  readonly from: number;
  readonly found: Fragment;
}

/**
 * What the last step has that begins at or before a date: a CASE of halves, so that a record is compared with few of
 * many.
 *
 * @param before whether a date is before a point, as that of stored dates.
 */
export function stepInHalves(
  steps: readonly Step[],
  before: (ms: number) => Fragment | "all" | "none",
): Fragment {
  const [first] = steps;
  if (first === undefined) throw new Error("there are no steps");
  if (steps.length === 1) return first.found;
  const middle = Math.ceil(steps.length / 2);
  const bound = before(steps[middle]?.from ?? Infinity);
  const [earlier, later] = [steps.slice(0, middle), steps.slice(middle)];
  if (bound === "none") return stepInHalves(later, before);
  if (bound === "all") return stepInHalves(earlier, before);
  return sql`CASE WHEN ${bound} THEN ${stepInHalves(earlier, before)} ELSE ${stepInHalves(later, before)} END`;
}

/** What the clock of a date from 2100 on has: by the kind of its year, and the minute within it. */
export function byKindOfYear(years: readonly ClockYear<Step>[], date: Fragment): Fragment {
  const cases = years.map((year) => {
    const steps = stepInTurn(year.pieces, minuteOfYear(date));
    return sql` WHEN ${numeral(kindNumber(year))} THEN ${steps}`;
  });
  return sql`CASE ${kindOfYear(date)}${joined(cases, sql``)} END`;
}

/** The same of a date that takes long to write. */
export function byPointOfYear(years: readonly ClockYear<Step>[], date: Fragment): Fragment {
  const size = 1_000_000;
  const point = sql`(${kindOfYear(date)} * ${numeral(size)} + ${minuteOfYear(date)})`;
  const steps = years
    .flatMap((year) =>
      year.pieces.map(({ from, found }) => ({
        from: kindNumber(year) * size + pointOf(from),
        found,
      })),
    )
    .sort((a, b) => a.from - b.from);
  const of = (value: Fragment) => stepInHalves(steps, (from) => sql`${value} < ${numeral(from)}`);
  return workedOnce(point, of, "orisma_in_year");
}

/** A kind of year as a number: 0 for a common year that begins on a Monday. */
function kindNumber({ firstWeekday, isLeap }: ClockYear<Step>): number {
  return (firstWeekday - 1) * 2 + (isLeap ? 1 : 0);
}

function kindOfYear(date: Fragment): Fragment {
  // Counted from Monday as 0; 371 is a multiple of seven beyond the longest year.
  const firstWeekday = sql`((${dateField("weekday", date)} - ${dateField("dayOfYear", date)} + 371) % 7)`;
  const isLeap = leapYear(dateField("year", date));
  return sql`(${firstWeekday} * 2 + CASE WHEN ${isLeap} THEN 1 ELSE 0 END)`;
}

/** The minute of a date in its year, whose first day has number 1. */
function minuteOfYear(date: Fragment): Fragment {
  const [dayOfYear, hour, minute] = (["dayOfYear", "hour", "minute"] as const).map((name) =>
    dateField(name, date),
  ) as [Fragment, Fragment, Fragment];
  return sql`((${dayOfYear} * 24 + ${hour}) * 60 + ${minute})`;
}

/** The same of milliseconds from the beginning of a year. */
function pointOf(from: number): number {
  return (MS_PER_DAY + from) / MS_PER_MINUTE;
}

/** What a year's steps have by the minute of the year. */
function stepInTurn(steps: readonly Step[], minutes: Fragment): Fragment {
  const [first, ...others] = steps;
  const [next] = others;
  if (first === undefined) throw new Error("a year has no steps");
  if (next === undefined) return first.found;
  return sql`CASE WHEN ${minutes} < ${numeral(pointOf(next.from))} THEN ${first.found} ELSE ${stepInTurn(others, minutes)} END`;
}

export function leapYear(year: Fragment): Fragment {
  return sql`(${year} % 4 = 0 AND (${year} % 100 <> 0 OR ${year} % 400 = 0))`;
}
