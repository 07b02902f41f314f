import {
  civilDay,
  dayMatcher,
  dayNumber,
  readWindow,
  renderFault,
  weekday,
} from "@orisma/core/internal";
import type ICAL from "ical.js";
import type { Turns } from "../http/index.js";

/** How often a rule comes round, of which days can have a part (RFC 5545, section 3.3.10). */
const FREQUENCIES = ["YEARLY", "MONTHLY", "WEEKLY", "DAILY"] as const;
type Frequency = (typeof FREQUENCIES)[number];

/** The days, counted from 1970-01-01, among which occurrences are looked for; the end is not. */
export interface DaysLookedAt {
  readonly from: number;
  readonly to: number;
}

/** What is left of the work that one file may cost. */
export interface Budget {
  /** Days that may still be looked at. */
  days: number;
  readonly turns: Turns;
}

/** Days that are looked at before others have their turn, if it is time. */
const LOOKED_AT_ONCE = 500;

/** What is wrong with a rule, in words. */
export class RuleRefused extends Error {}

/**
 * The days on which a rule of whole days comes round, by looking at every day: bounded whatever the
 * rule says, and a day that never is comes never, where a step from one to the next would go on
 * for good or land on its neighbour.
 *
 * Throws {@link RuleRefused} for what is not read: rules finer than a day, BYSETPOS, weekdays
 * counted within a year, and what the budget has no days left for.
 */
export async function recurringDays(
  rule: ICAL.Recur,
  start: number,
  { from, to }: DaysLookedAt,
  budget: Budget,
): Promise<readonly number[]> {
  const frequency = FREQUENCIES.find((each) => each === rule.freq);
  if (frequency === undefined) throw new RuleRefused(`it comes round ${rule.freq}, not by days`);
  const { interval } = rule;
  if (!Number.isInteger(interval) || interval < 1) throw new RuleRefused("INTERVAL is 1 or more");
  const parts = partsOf(rule, frequency, start);
  const isDay = matcherOf(parts);
  const months = new Set(parts.get("BYMONTH")?.map(Number));
  const isTurn = turnOf(frequency, interval, start, rule.wkst);
  const { until, count } = rule;
  const last = until === null ? to : Math.min(to, dayOfTime(until) + 1);
  const days: number[] = [];
  let skipped = count ?? Infinity;
  // What is counted is counted from the beginning, though it may lie before what is looked at.
  for (let day = count === null ? Math.max(start, from) : start; day < last && skipped > 0; day++) {
    if (budget.days-- % LOOKED_AT_ONCE === 0) {
      if (budget.days < 0) {
        throw new RuleRefused("it is counted from too long ago, or there are too many such rules");
      }
      await budget.turns.pause();
    }
    const { year, month } = civilDay(day);
    if (months.size > 0 && !months.has(month)) {
      // On to the next month: most rules of days off have one month a year.
      day = dayNumber(year, month + 1, 1) - 1;
      continue;
    }
    if (!isDay(day) || !isTurn(day)) continue;
    skipped--;
    if (day >= from) days.push(day);
  }
  return days;
}

/** A day as it is written in a calendar file. */
export function dayOfTime({ year, month, day }: ICAL.Time): number {
  return dayNumber(year, month, day);
}

/** The parts of a rule, and what it takes from its first day where it leaves them out. */
function partsOf(
  rule: ICAL.Recur,
  frequency: Frequency,
  start: number,
): ReadonlyMap<string, readonly (string | number)[]> {
  const parts = new Map(Object.entries(rule.parts as Record<string, readonly (string | number)[]>));
  const has = (name: string) => parts.has(name);
  if (has("BYSETPOS")) throw new RuleRefused("BYSETPOS is not read");
  const isCounted = (parts.get("BYDAY") ?? []).some((each) => /\d/.test(String(each)));
  if (isCounted && !(frequency === "MONTHLY" || (frequency === "YEARLY" && has("BYMONTH")))) {
    throw new RuleRefused("weekdays are counted within a month only: name the month");
  }
  const { month, day } = civilDay(start);
  const letters = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"][weekday(start) - 1] ?? "MO";
  if (!["BYDAY", "BYMONTHDAY", "BYYEARDAY"].some(has)) {
    if (frequency === "WEEKLY" || has("BYWEEKNO")) parts.set("BYDAY", [letters]);
    else if (frequency !== "DAILY") {
      parts.set("BYMONTHDAY", [day]);
      if (frequency === "YEARLY" && !has("BYMONTH")) parts.set("BYMONTH", [month]);
    }
  }
  return parts;
}

function matcherOf(
  parts: ReadonlyMap<string, readonly (string | number)[]>,
): (day: number) => boolean {
  const rules = [...parts].map(([name, values]) => `;${name}=${values.join(",")}`).join("");
  const read = readWindow(`../..${rules}`);
  if (!read.ok) throw new RuleRefused(read.faults.map((each) => renderFault(each).message).join());
  const [{ recurring }] = read.value.window.alternatives;
  return dayMatcher(recurring, { weekStart: 1, firstWeekDays: 4 });
}

/** Whether it is the turn of the year, month, week or day of a day, of every so many. */
function turnOf(frequency: Frequency, interval: number, start: number, weekStart: number) {
  const first = civilDay(start);
  // Weekdays are counted from Sunday as 1; 1970-01-04 was one.
  const week = (day: number) => Math.floor((day - 3 - (weekStart - 1)) / 7);
  return (day: number): boolean => {
    if (interval === 1) return true;
    const { year, month } = civilDay(day);
    const gone = {
      YEARLY: year - first.year,
      MONTHLY: (year - first.year) * 12 + month - first.month,
      WEEKLY: week(day) - week(start),
      DAILY: day - start,
    }[frequency];
    return gone % interval === 0;
  };
}
