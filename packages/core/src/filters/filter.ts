import type { Interval } from "../calendar/index.js";
import type { Recurring, WeekRules } from "../windows/index.js";
import type { Decimal } from "./decimal.js";
import type { PatternPiece } from "./pattern.js";
import type { Relation } from "./relations.js";

/** What a date condition does with blanks. */
export const BLANK_POLICIES = ["leave", "keep", "only"] as const;
export type BlankPolicy = (typeof BLANK_POLICIES)[number];

/** An interval, open or closed, of which only what the recurring rules let in counts. */
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
 * comparison of dates is one of the two; see {@link compareDates}.
 */
export interface DateCondition {
  readonly kind: "date";
  readonly column: string;
  readonly side: Side;
  /** In order, and apart from one another. */
  readonly intervals: readonly Interval[];
  readonly recurring: readonly RecurringStretch[];
  readonly blanks: BlankPolicy;
}

/** Which side of what it describes a condition keeps. */
export type Side = "inside" | "outside";

/** One bound of a range of numbers. */
export interface NumberBound {
  readonly value: Decimal;
  /** Whether the bound itself is in. */
  readonly isIn: boolean;
}

/** A condition on a column of numbers: those within a range, or the others. */
export interface NumberCondition {
  readonly kind: "number";
  readonly column: string;
  readonly side: Side;
  readonly least: NumberBound | null;
  readonly most: NumberBound | null;
  readonly blanks: BlankPolicy;
}

/** A condition on a column of texts: those of a pattern's form, or the others that are not blank. */
export interface TextCondition {
  readonly kind: "text";
  readonly column: string;
  readonly side: Side;
  readonly pattern: readonly PatternPiece[];
  /** Whether letter case counts; accents always do. */
  readonly letterCase: "exact" | "folded";
  readonly blanks: BlankPolicy;
}

/** A condition on a column of texts or numbers: one of some values, or none of them. */
export interface OneOfCondition {
  readonly kind: "oneOf";
  readonly column: string;
  readonly side: Side;
  /** Numbers as {@link Decimal}. */
  readonly values: readonly string[];
  readonly letterCase: "exact" | "folded";
  readonly blanks: BlankPolicy;
}

/** A condition on a column of yes and no: `inside` keeps yes, `outside` no. */
export interface BooleanCondition {
  readonly kind: "boolean";
  readonly column: string;
  readonly side: Side;
  readonly blanks: BlankPolicy;
}

/**
 * A condition on the stretch between two date columns of one kind, in its relation to stretches of
 * a window.
 *
 * An end on a column of days is the end of that day. A blank end is open where `openEnd` says so,
 * and a blank start likewise; else the record is left out. A stretch that does not end after it
 * begins satisfies nothing, and to a window without length nothing is related.
 */
export interface OverlapCondition {
  readonly kind: "overlap";
  readonly start: string;
  readonly end: string;
  readonly side: Side;
  /** Any of them will do. */
  readonly relations: readonly Relation[];
  readonly intervals: readonly Interval[];
  readonly openStart: boolean;
  readonly openEnd: boolean;
}

/**
 * A condition on the whole days from one date column to another of the same kind: calendar days
 * between days and wall-clock times, elapsed ones of 24 hours between instants.
 */
export interface DaysCondition {
  readonly kind: "days";
  readonly from: string;
  readonly to: string;
  readonly side: Side;
  readonly least: number | null;
  readonly most: number | null;
}

export const ORDER_COMPARISONS = ["=", "<>", "<", "<=", ">", ">="] as const;
export type OrderComparison = (typeof ORDER_COMPARISONS)[number];

/** A comparison of two columns of one type, at the finest they hold; texts only for being equal. */
export interface ColumnsCondition {
  readonly kind: "columns";
  readonly left: string;
  readonly comparison: OrderComparison;
  readonly right: string;
}

/** A condition on the state of a column's cells: `dated` is said of any cell that holds a value. */
export interface StateCondition {
  readonly kind: "state";
  readonly column: string;
  readonly state: "dated" | "blank" | "unreadable";
}

/** A condition on one record. */
export type Condition =
  | DateCondition
  | NumberCondition
  | TextCondition
  | OneOfCondition
  | BooleanCondition
  | OverlapCondition
  | DaysCondition
  | ColumnsCondition
  | StateCondition;

/** A tree of conditions; `all` of nothing keeps everything, `any` of nothing keeps nothing. */
export type Filter =
  | { readonly kind: "all"; readonly of: readonly Filter[] }
  | { readonly kind: "any"; readonly of: readonly Filter[] }
  | { readonly kind: "not"; readonly of: Filter }
  | Condition;

/** The filter that keeps every record. */
export const EVERYTHING: Filter = { kind: "all", of: [] };

/** The filter that keeps none. */
export const NOTHING: Filter = { kind: "any", of: [] };

/** Whether a filter is {@link EVERYTHING}, however it came to be. */
export function isEverything(filter: Filter): boolean {
  return filter.kind === "all" && filter.of.length === 0;
}

/** Whether a filter is {@link NOTHING}, however it came to be. */
export function isNothing(filter: Filter): boolean {
  return filter.kind === "any" && filter.of.length === 0;
}
