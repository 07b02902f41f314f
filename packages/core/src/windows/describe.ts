import {
  MS_PER_DAY,
  civilDay,
  dayOf,
  longDay,
  longDateTime,
  wallMs,
  monthName,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import type { Recurring, Window } from "./notation.js";
import { recurringInWords } from "./recurring-words.js";
import type { ResolvedWindow } from "./resolve.js";

/** Intervals that a sentence names one by one. */
const MAX_NAMED = 3;

type Period = Pick<ResolvedWindow, "intervals" | "recurring"> &
  Partial<Pick<ResolvedWindow, "ranges" | "truncated">>;

/** A window and what it resolves to in words, with its zone: `1–31 January 2025, Europe/London`. */
export function windowInWords(
  window: Window,
  resolved: Period,
  zone: Zone,
  label: string | null = null,
): string {
  const named = label === null ? "" : `, ${label}`;
  // Dates say more than a rule that comes to one interval.
  const isOne = resolved.intervals.length === 1 && resolved.recurring.length === 0;
  return `${windowPeriodInWords(isOne ? null : window, resolved)}${named}, ${zone.id}`;
}

/**
 * What a window resolves to in words: its intervals; of parts that recur their rules, and not the intervals
 * that they come to: `on Mondays, 2023–2026`. A null window is one of which only the intervals are known.
 */
export function windowPeriodInWords(window: Window | null, period: Period): string {
  const alternatives = window?.alternatives ?? [];
  const isPlain = alternatives.every((each) => each.recurring.length === 0);
  if (period.intervals.length === 0 || isPlain) return intervalsInWords(period);
  return alternatives
    .flatMap(({ recurring }, index) => {
      const range = period.ranges?.[index] ?? null;
      return range === null ? [] : [recursInWords(recurring, range)];
    })
    .join("; ");
}

/** The intervals of a window in words, of many only the first. */
export function intervalsInWords({ intervals, recurring, truncated = false }: Period): string {
  const open = recurring.map(({ interval, recurring: rules }) => recursInWords(rules, interval));
  const named = intervals.slice(0, MAX_NAMED).map(intervalInWords);
  const more = intervals.length - named.length;
  const rest =
    more > 0
      ? [`${more}${truncated ? " or more" : ""} more ${more === 1 ? "interval" : "intervals"}`]
      : [];
  return [...open, ...named, ...rest].join("; ") || "nothing";
}

/** Rules that recur within an interval: `on Mondays, 2023–2026`; without rules the interval alone. */
export function recursInWords(rules: readonly Recurring[], interval: Interval): string {
  const { start, end } = interval;
  if (rules.length === 0) return periodInWords(interval).text;
  const within = start === null && end === null ? "" : `, ${periodInWords(interval).text}`;
  return `${recurringInWords(rules, isInOneYear(interval))}${within}`;
}

function isInOneYear({ start, end }: Interval): boolean {
  if (start === null || end === null) return false;
  return civilDay(dayOf(start.wall)).year === civilDay(dayOf(wallMs(end.wall - 1))).year;
}

/**
 * An interval, its first and last day included: `1–28 February 2025`, `on 28 February 2025`, `from 1
 * February 2025`, `until 28 February 2025`; with times `from 28 February 2025, 14:30, before 1 March 2025, 15:00`.
 */
export function intervalInWords({ start, end }: Interval): string {
  if (start === null && end === null) return "at any time";
  if (start !== null && end !== null && isDay(start.wall) && isDay(end.wall)) {
    const days = daysInWords(dayOf(start.wall), dayOf(end.wall) - 1);
    return isOneDay(start.wall, end.wall) ? `on ${days}` : days;
  }
  return [
    ...(start === null ? [] : [`from ${wallInWords(start.wall)}`]),
    ...(end === null ? [] : [endInWords(end.wall)]),
  ].join(", ");
}

/** A period in words, and the preposition that goes with it: `in` January 2025; none with `2023–2026`. */
export function periodInWords(interval: Interval): {
  readonly preposition: string;
  readonly text: string;
} {
  const { start, end } = interval;
  const whole =
    start !== null && end !== null && isDay(start.wall) && isDay(end.wall)
      ? monthsInWords(dayOf(start.wall), dayOf(end.wall))
      : null;
  if (whole !== null) return whole;
  const words = intervalInWords(interval);
  return words.startsWith("on ")
    ? { preposition: "on ", text: words.slice("on ".length) }
    : { preposition: "", text: words };
}

/** Whole months and years in words; null for any other days. The end is the day after the last one. */
function monthsInWords(first: number, end: number) {
  const [a, b, next] = [civilDay(first), civilDay(end - 1), civilDay(end)];
  if (a.day !== 1 || next.day !== 1 || end <= first) return null;
  if (a.month === 1 && b.month === 12) {
    return a.year === b.year
      ? { preposition: "in ", text: String(a.year) }
      : { preposition: "", text: `${a.year}–${b.year}` };
  }
  if (a.year !== b.year) return null;
  return a.month === b.month
    ? { preposition: "in ", text: `${monthName(a.month)} ${a.year}` }
    : { preposition: "", text: `${monthName(a.month)}–${monthName(b.month)} ${a.year}` };
}

/** Days from one to another, both included: `1–14 February 2025`, `28 February – 3 March 2025`. */
function daysInWords(first: number, last: number): string {
  if (first === last) return longDay(last);
  const [a, b] = [civilDay(first), civilDay(last)];
  if (a.year !== b.year) return `${longDay(first)} – ${longDay(last)}`;
  return a.month === b.month
    ? `${a.day}–${longDay(last)}`
    : `${a.day} ${monthName(a.month)} – ${longDay(last)}`;
}

type Wall = NonNullable<Interval["start"]>["wall"];

function isDay(wall: Wall): boolean {
  return wall % MS_PER_DAY === 0;
}

function isOneDay(start: Wall, end: Wall): boolean {
  return isDay(start) && end - start === MS_PER_DAY;
}

/** A day, or a day and a time. */
export function wallInWords(wall: Wall): string {
  return isDay(wall) ? longDay(dayOf(wall)) : longDateTime(wall);
}

/** The end of an interval: until a day, which is included, or before a time. */
export function endInWords(wall: Wall): string {
  return isDay(wall) ? `until ${longDay(dayOf(wall) - 1)}` : `before ${longDateTime(wall)}`;
}
