import type { Filter } from "../filters/index.js";
import type { SqlValue } from "./fragment.js";

/** A column by which records are put in order. */
export interface OrderKey {
  readonly column: string;
  readonly descending: boolean;
  /** Where cells without a value stand: first ascending and last descending by default. */
  readonly blanks?: BlankPlace;
}

/** The order of a page: columns, then the key in the direction of the first. */
export interface RecordOrder {
  /** A column of the catalogue, or null for the key alone. */
  readonly column: string | null;
  readonly descending: boolean;
  /**
   * Where cells without a value stand: where the database has them by default, which is first
   * ascending and last descending.
   */
  readonly blanks?: BlankPlace;
  /** The columns that order records which the first does not distinguish. */
  readonly then?: readonly OrderKey[];
}

export const BLANK_PLACES = ["first", "last"] as const;
export type BlankPlace = (typeof BLANK_PLACES)[number];

/** The place in an order after which a page begins: the values of the record before it. */
export interface Position {
  /** The stored value of the order's column; null for a blank or unreadable cell. */
  readonly value: SqlValue;
  readonly key: SqlValue;
  /** The values of the order's further columns; null where a cell has none. */
  readonly then?: readonly SqlValue[];
  /**
   * For a record of another table, in an order over several: its date in milliseconds (as a cell's
   * `ms`), which each table stores in its own way, and whether records with the very same come
   * after it ("all") or before ("none").
   */
  readonly elsewhere?: { readonly ms: number | null; readonly ties: "all" | "none" };
}

/** A count that is made beside a page. */
export interface CountQuery {
  readonly filter: Filter;
  /** Records that are omitted, whatever the filter keeps. */
  readonly without?: Filter;
  /** Counting stops one beyond it, so that the cost is the same at any size; null for never. */
  readonly cap: number | null;
}

/** What a page of records is made of. */
export interface PageQuery {
  readonly filter: Filter;
  /** Records that are omitted, whatever the filter keeps. */
  readonly without?: Filter;
  readonly columns: readonly string[];
  readonly order: RecordOrder;
  readonly after: Position | null;
  /** Records at most, a whole number. */
  readonly limit: number;
  /** Records of the order that are passed over: every one of them is read, and counted off. */
  readonly offset?: number;
  /** Totals to give with every record of the page. */
  readonly counts: readonly CountQuery[];
  /** The keys of the records that are wanted, where they are among them; one at least. */
  readonly only?: readonly SqlValue[];
  /** Of the records only those with a value in the order's column, or those without one. */
  readonly half?: "values" | "none";
}
