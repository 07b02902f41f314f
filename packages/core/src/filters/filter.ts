import type { Interval } from "../calendar/index.js";
import type { Recurring, WeekRules } from "../windows/index.js";

/** What a date condition does with blanks. */
export const BLANK_POLICIES = ["leave", "keep", "only"] as const;
export type BlankPolicy = (typeof BLANK_POLICIES)[number];

/** A stretch, open on a side, in which only the parts that recur count. */
export interface RecurringStretch {
  readonly interval: Interval;
  readonly rules: readonly Recurring[];
  readonly weeks: WeekRules;
  /** The IANA name of the zone in which the parts are those of days and hours. */
  readonly zone: string;
}

/**
 * A condition on one date column.
 *
 * `inside` keeps the dated values v that lie in one of the stretches, start ≤ v < end; `outside`
 * the other dated values. An open end bounds nothing, and of no stretches nothing is inside. Every
 * comparison of DESIGN section 3 is one of the two; see {@link compareDates}.
 */
export interface DateCondition {
  readonly kind: "date";
  readonly column: string;
  readonly side: "inside" | "outside";
  /** In order, and apart from one another. */
  readonly intervals: readonly Interval[];
  readonly recurring: readonly RecurringStretch[];
  readonly blanks: BlankPolicy;
}

/** A condition on the state of a date column's cells. */
export interface StateCondition {
  readonly kind: "state";
  readonly column: string;
  readonly state: "dated" | "blank" | "unreadable";
}

/** A tree of conditions; `all` of nothing keeps everything, `any` of nothing keeps nothing. */
export type Filter =
  | { readonly kind: "all"; readonly of: readonly Filter[] }
  | { readonly kind: "any"; readonly of: readonly Filter[] }
  | { readonly kind: "not"; readonly of: Filter }
  | DateCondition
  | StateCondition;

/** The filter that keeps every record. */
export const EVERYTHING: Filter = { kind: "all", of: [] };
