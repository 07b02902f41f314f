import type { WrittenDate } from "../reading/index.js";

/** Units in which a window can be written, the finest first. */
export const UNITS = [
  "minute",
  "hour",
  "day",
  "week",
  "month",
  "quarter",
  "fiscalquarter",
  "year",
  "fiscalyear",
  "workday",
] as const;
export type Unit = (typeof UNITS)[number];

/** A length of time (ISO 8601-1:2019, 5.5.2): days and longer by the calendar, the rest elapsed. */
export interface Duration {
  readonly years: number;
  readonly months: number;
  readonly weeks: number;
  readonly days: number;
  /** Hours, minutes and seconds, in milliseconds. */
  readonly elapsedMs: number;
}

/** What a part begins from. */
export type Base =
  | { readonly kind: "written"; readonly written: WrittenDate }
  | { readonly kind: "now" }
  | {
      readonly kind: "unit";
      readonly unit: Unit;
      /** So many units on, or back where negative. */
      readonly offset: number;
      /** The n-th day of the unit, from its end where negative; null for all of it. */
      readonly nth: number | null;
    };

/** One written date of a window, moved by up to two lengths. */
export interface Part {
  readonly base: Base;
  readonly shifts: readonly { readonly sign: 1 | -1; readonly duration: Duration }[];
  /** As it is written canonically. */
  readonly text: string;
}

/** An interval as written: one part, two ends of which one may be open, or a length and one end. */
export type Range =
  | { readonly kind: "part"; readonly part: Part }
  | { readonly kind: "ends"; readonly start: Part | null; readonly end: Part | null }
  | { readonly kind: "lengthBefore"; readonly length: Duration; readonly part: Part }
  | { readonly kind: "lengthAfter"; readonly part: Part; readonly length: Duration };

/** From one number to another, both in; one that wraps goes over the end. */
export interface NumberSpan {
  readonly from: number;
  readonly to: number;
}

/** Weekdays, 1 for Monday to 7; `nth` counts within the month, from its end where negative. */
export interface WeekdaySpan extends NumberSpan {
  readonly nth: number | null;
}

/** A recurring part, by its name in RFC 5545, section 3.3.10: each limits, and all must hold. */
export type Recurring =
  | { readonly name: Exclude<RecurringName, "BYDAY">; readonly spans: readonly NumberSpan[] }
  | { readonly name: "BYDAY"; readonly spans: readonly WeekdaySpan[] };

export const RECURRING_NAMES = [
  "BYMONTH",
  "BYMONTHDAY",
  "BYYEARDAY",
  "BYWEEKNO",
  "BYDAY",
  "BYHOUR",
] as const;
export type RecurringName = (typeof RECURRING_NAMES)[number];

export interface Alternative {
  readonly range: Range;
  readonly recurring: readonly Recurring[];
}

/** A window as written: the union of its alternatives. */
export interface Window {
  readonly alternatives: readonly [Alternative, ...(readonly Alternative[])];
}

/** Words for the days around today, and how many days each is away from it. */
export const DAY_WORDS: ReadonlyMap<string, number> = new Map([
  ["today", 0],
  ["yesterday", -1],
  ["tomorrow", 1],
]);

/** Two letters for each weekday, from Monday (RFC 5545, section 3.3.10). */
export const WEEKDAYS = ["MO", "TU", "WE", "TH", "FR", "SA", "SU"] as const;

/** The dates that a range is made of, without its open ends. */
export function partsOf(range: Range): readonly Part[] {
  return range.kind === "ends"
    ? [range.start, range.end].filter((part) => part !== null)
    : [range.part];
}
