import { monthName } from "../calendar/index.js";
import type { NumberSpan, Recurring, WeekdaySpan } from "./notation.js";

const WEEKDAY_NAMES = [
  "Monday",
  "Tuesday",
  "Wednesday",
  "Thursday",
  "Friday",
  "Saturday",
  "Sunday",
] as const;
/**
 * Recurring parts in words: `in April to June of each year, on the last day of the month`. Within one year
 * months are not said to be those of each.
 */
export function recurringInWords(rules: readonly Recurring[], isInOneYear = false): string {
  return rules.map((rule) => ruleInWords(rule, isInOneYear)).join(", ");
}

function ruleInWords(rule: Recurring, isInOneYear: boolean): string {
  switch (rule.name) {
    case "BYMONTH":
      return `in ${listed(rule.spans, monthName)}${isInOneYear ? "" : " of each year"}`;
    case "BYMONTHDAY":
      return `on the ${listed(rule.spans, (day) => ordinal(day, "day"))} of the month`;
    case "BYYEARDAY":
      return `on the ${listed(rule.spans, (day) => ordinal(day, "day"))} of the year`;
    case "BYWEEKNO":
      return `in ${listed(rule.spans, (week) => (week < 0 ? `the ${ordinal(week, "week")}` : `week ${week}`))}`;
    case "BYHOUR":
      return joined(rule.spans.map(hoursInWords));
    case "BYDAY":
      return `on ${joined(rule.spans.map(weekdaysInWords))}`;
  }
}

function hoursInWords({ from, to }: NumberSpan): string {
  const clock = (hour: number) => `${String(hour).padStart(2, "0")}:00`;
  return `between ${clock(from)} and ${clock(to + 1)}`;
}

function weekdaysInWords({ from, to, nth }: WeekdaySpan): string {
  const name = (day: number) => WEEKDAY_NAMES[day - 1] ?? "";
  if (nth !== null) return `the ${ordinal(nth, "")}${name(from)} of the month`.replace("  ", " ");
  if (from === to) return `${name(from)}s`;
  return `${name(from)}s ${to === from + 1 ? "and" : "to"} ${name(to)}s`;
}

function listed(spans: readonly NumberSpan[], name: (value: number) => string): string {
  return joined(
    spans.map(({ from, to }) => (from === to ? name(from) : `${name(from)} to ${name(to)}`)),
  );
}

function joined(parts: readonly string[]): string {
  return parts.length < 2
    ? parts.join("")
    : `${parts.slice(0, -1).join(", ")} and ${parts.at(-1) ?? ""}`;
}

/** `3rd`, `last day`, `3rd last day`; what is counted is named only from the end. */
function ordinal(value: number, counted: string): string {
  const size = Math.abs(value);
  const tens = size % 100;
  const ending = tens >= 11 && tens <= 13 ? "th" : (["th", "st", "nd", "rd"][size % 10] ?? "th");
  if (value > 0) return counted === "" ? `${size}${ending} ` : `${size}${ending}`;
  const place = size === 1 ? "last" : `${size}${ending} last`;
  return `${place} ${counted}`;
}
