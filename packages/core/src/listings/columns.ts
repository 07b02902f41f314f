import { DATE_NUMBERS, type DateNumber } from "../sql/index.js";

/** The parts of a date that can be a column of their own. */
export const DERIVED_PARTS = DATE_NUMBERS;
export type DerivedPart = DateNumber;

/** A column that is computed from others in the same record; a blank makes it blank. */
export type DerivedColumn =
  /**
   * Whole days from one date to another, less than 0 where they are in reverse order; `now` stands
   * for the instant of the request. Days of the calendar; of instants days of 24 hours.
   */
  | { readonly kind: "days"; readonly from: string; readonly to: string }
  /** A part of a date as a number; days of the week from 1 for Monday. */
  | { readonly kind: "part"; readonly part: DerivedPart; readonly column: string };

/** The end of days between dates that is the instant of the request. */
export const NOW = "now";

/** A to-one relation: a column of each record has the key of one record of another source. */
export interface RelationDeclaration {
  /** The other source, which has a key. */
  readonly source: string;
  /** The column here that has the other record's key. */
  readonly by: string;
  /** The other source's columns that are here, as `relation.column`. */
  readonly columns: readonly string[];
}

/** How a column's values are shown; filters and orders go by the values all the same. */
export interface ColumnFormat {
  /** Of dates: letters of UTS #35, such as `d MMMM yyyy`. */
  readonly pattern?: string;
  /** The language of names, or of the signs in numbers; English by default. */
  readonly locale?: string;
  /** Of numbers: decimals, to which they are rounded. */
  readonly decimals?: number;
  /** Of numbers: what stands before and behind, such as a currency symbol. */
  readonly prefix?: string;
  readonly suffix?: string;
  /** Of yes and no: the words for them. */
  readonly yes?: string;
  readonly no?: string;
}
