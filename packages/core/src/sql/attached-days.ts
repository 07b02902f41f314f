import { FIRST_MS, MS_PER_DAY } from "../calendar/index.js";
import type { DateKind } from "../reading/index.js";
import { functionCall, numeral, sql, valueOf, type Fragment } from "./fragment.js";

/** Days from the year 1 to a number of milliseconds, which has no sign there. */
export function daysSinceYear1(millis: Fragment): Fragment {
  return functionCall("wholeDays", sql`${millis} + ${numeral(-FIRST_MS)}`);
}

/**
 * Whole days from one date to another, each a column's or a moment, in milliseconds of their kind: of
 * the calendar, and between instants elapsed ones of 24 hours.
 */
export function daysBetween(
  from: Fragment | number,
  to: Fragment | number,
  kind: DateKind,
): Fragment {
  const [first, last] = [from, to].map((end) => {
    if (typeof end !== "number") return kind === "instant" ? end : daysSinceYear1(end);
    // Worked out here: of a bound value alone a database does not know that it is a number.
    return valueOf(kind === "instant" ? end : Math.floor((end - FIRST_MS) / MS_PER_DAY));
  }) as [Fragment, Fragment];
  return kind === "instant"
    ? functionCall("wholeDays", sql`${last} - ${first}`)
    : sql`(${last} - ${first})`;
}

/** Milliseconds cut to the beginning of their day. */
export function wholeDay(millis: Fragment): Fragment {
  return sql`(${daysSinceYear1(millis)} * ${numeral(MS_PER_DAY)} + ${numeral(FIRST_MS)})`;
}
