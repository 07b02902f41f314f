import { type BlankPolicy, type DateCondition } from "./conditions/index.js";
import type { Interval, Span } from "../calendar/index.js";

/** The ways in which a date column can be compared with one written date. */
export const DATE_COMPARISONS = ["on", "notOn", "from", "after", "before", "to"] as const;
export type DateComparison = (typeof DATE_COMPARISONS)[number];

/** How each comparison is said in a sentence. */
export const COMPARISON_WORDS: Record<DateComparison, string> = {
  on: "on",
  notOn: "not on",
  from: "from",
  after: "after",
  before: "before",
  to: "up to and including",
};

/**
 * The condition that a comparison with a span makes (the one rule for dates: a written date is the whole of the time that it names).
 *
 * @example compareDates("raised", "to", february, "exclude") // v < end of February
 */
export function compareDates(
  column: string,
  comparison: DateComparison,
  span: Span,
  blanks: BlankPolicy = "exclude",
): DateCondition {
  const side = comparison === "notOn" ? "outside" : "inside";
  const intervals = [intervalOf(comparison, span)];
  return { kind: "date", column, side, intervals, recurring: [], blanks };
}

/** The half-open interval that a comparison with a span stands for. */
export function intervalOf(comparison: DateComparison, { start, end }: Span): Interval {
  switch (comparison) {
    case "on":
    case "notOn":
      return { start, end };
    case "from":
      return { start, end: null };
    case "after":
      return { start: end, end: null };
    case "before":
      return { start: null, end: start };
    case "to":
      return { start: null, end };
  }
}

/** What each comparison with a written date includes. */
export const COMPARISON_KEEPS: Record<DateComparison, string> = {
  on: "dates within the given one",
  notOn: "dates outside of the given one",
  from: "dates on or after the given one",
  after: "dates after the end of the given one",
  before: "dates before the start of the given one",
  to: "dates until the end of the given one, its last day included",
};
