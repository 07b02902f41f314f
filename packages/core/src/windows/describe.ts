import {
  MS_PER_DAY,
  dayOf,
  longDay,
  longWall,
  monthName,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import type { NumberSpan, Recurring, WeekdaySpan } from "./notation.js";
import type { ResolvedWindow } from "./resolve.js";

const WEEKDAY_NAMES = [
  "Monday",
  "Tuesday",
  "Wednesday",
  "Thursday",
  "Friday",
  "Saturday",
  "Sunday",
] as const;
/** Stretches that a sentence names one by one. */
const MOST_NAMED = 3;

/** A resolved window in words, with its zone: from its first day to the end of its last. */
export function windowInWords(resolved: ResolvedWindow, zone: Zone): string {
  return `${stretchesInWords(resolved)}, ${zone.id}`;
}

/** The stretches of a window in words, of many only the first. */
export function stretchesInWords({
  intervals,
  recurring,
  truncated = false,
}: Pick<ResolvedWindow, "intervals" | "recurring"> & { readonly truncated?: boolean }): string {
  const open = recurring.map(
    ({ interval, recurring: rules }) => `${recurringInWords(rules)}, ${intervalInWords(interval)}`,
  );
  const named = intervals.slice(0, MOST_NAMED).map(intervalInWords);
  const left = intervals.length - named.length;
  const rest =
    left > 0
      ? [`${left}${truncated ? " or more" : ""} more ${left === 1 ? "stretch" : "stretches"}`]
      : [];
  return [...open, ...named, ...rest].join("; ") || "nothing";
}

/** `from 1 August 2019 to the end of 31 January 2020`. */
export function intervalInWords({ start, end }: Interval): string {
  if (start === null && end === null) return "all dates";
  if (start !== null && end !== null && isOneDay(start.wall, end.wall)) {
    return `on ${longDay(dayOf(start.wall))}`;
  }
  const from = start === null ? "" : `from ${startWords(start.wall)}`;
  const to = end === null ? "on" : endWords(end.wall);
  return start === null ? `up to ${to}` : end === null ? `${from} ${to}` : `${from} to ${to}`;
}

/** An edge as the start of a stretch, or as the end of one that has all before it. */
export function edgeInWords(wall: Wall, side: "start" | "end"): string {
  return side === "start" ? startWords(wall) : endWords(wall);
}

type Wall = NonNullable<Interval["start"]>["wall"];

function isOneDay(start: Wall, end: Wall): boolean {
  return start % MS_PER_DAY === 0 && end - start === MS_PER_DAY;
}

function startWords(wall: Wall): string {
  return wall % MS_PER_DAY === 0 ? longDay(dayOf(wall)) : longWall(wall);
}

function endWords(wall: Wall): string {
  return wall % MS_PER_DAY === 0
    ? `the end of ${longDay(dayOf(wall) - 1)}`
    : `before ${longWall(wall)}`;
}

/** Recurring parts in words: `in April to June, on the last day of the month`. */
export function recurringInWords(rules: readonly Recurring[]): string {
  return rules.map(ruleInWords).join(", ");
}

function ruleInWords(rule: Recurring): string {
  switch (rule.name) {
    case "BYMONTH":
      return `in ${listed(rule.spans, monthName)}`;
    case "BYMONTHDAY":
      return `on the ${listed(rule.spans, (day) => ordinal(day, "day"))} of the month`;
    case "BYYEARDAY":
      return `on the ${listed(rule.spans, (day) => ordinal(day, "day"))} of the year`;
    case "BYWEEKNO":
      return `in ${listed(rule.spans, (week) => (week < 0 ? `the ${ordinal(week, "week")}` : `week ${week}`))}`;
    case "BYHOUR":
      return `in the ${listed(rule.spans, (hour) => `${String(hour).padStart(2, "0")}:00`)} hours`;
    case "BYDAY":
      return `on ${joined(rule.spans.map(weekdaysInWords))}`;
  }
}

function weekdaysInWords({ from, to, nth }: WeekdaySpan): string {
  const name = (day: number) => WEEKDAY_NAMES[day - 1] ?? "";
  if (nth !== null) return `the ${ordinal(nth, "")}${name(from)} of the month`.replace("  ", " ");
  return from === to ? `${name(from)}s` : `${name(from)} to ${name(to)}`;
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
