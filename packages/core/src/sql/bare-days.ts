import { MS_PER_DAY, dayNumber } from "../calendar/index.js";
import { call, sql, valueOf, type Fragment } from "./fragment.js";

/** The first and the last millisecond, and one beyond, of the years that can be written. */
export const FIRST_MS = dayNumber(1, 1, 1) * MS_PER_DAY;
export const END_MS = dayNumber(10_000, 1, 1) * MS_PER_DAY;

/** Days from the year 1 to a number of milliseconds, which has no sign there. */
export function daysSinceYear1(millis: Fragment): Fragment {
  return call("wholeDays", sql`${millis} + ${valueOf(-FIRST_MS)}`);
}

/** Milliseconds cut to the beginning of their day. */
export function wholeDay(millis: Fragment): Fragment {
  return sql`(${daysSinceYear1(millis)} * ${valueOf(MS_PER_DAY)} + ${valueOf(FIRST_MS)})`;
}
