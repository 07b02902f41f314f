import type { DateKind } from "../reading/index.js";
import { sql, type Fragment } from "./fragment.js";

/**
 * How the cells of a stored column are queried. Each condition is true only of the cells it
 * names, and never of another; it may be unknown where it is not true.
 */
export interface StoredCells {
  /** The cell holds a value: a date, a number, a text. */
  readonly isFilled: Fragment;
  readonly isBlank: Fragment;
  readonly isUnreadable: Fragment;
  /** True of every cell of which the condition above is not, and never unknown. */
  readonly isNotFilled: Fragment;
  readonly isNotBlank: Fragment;
  readonly isNotUnreadable: Fragment;
}

/** The cells of a column that holds a value or is blank, and never unreadable. */
export function filledOrBlank(isFilled: Fragment, isBlank: Fragment): StoredCells {
  return {
    isFilled,
    isNotFilled: isBlank,
    isBlank,
    isNotBlank: isFilled,
    isUnreadable: sql`1 = 0`,
    isNotUnreadable: sql`1 = 1`,
  };
}

/** The last days of dates without a day, beside the first ones; NULL for every other date. */
export interface LastDays {
  readonly isNone: Fragment;
  readonly isThere: Fragment;
  /** Whether the last day is at or after, or before, a number of milliseconds; as those of {@link StoredDates}. */
  from(ms: number): Fragment | "all" | "none";
  before(ms: number): Fragment | "all" | "none";
}

/** The cells of a column of dates. */
export interface StoredDates extends StoredCells {
  readonly kind: DateKind;
  /**
   * What must hold beside a comparison for it to be right: that the value compared is a date at
   * all. Null where a comparison says so by itself.
   */
  readonly guard: Fragment | null;
  /**
   * Whether a date is at or after, or before, a number of milliseconds (as a cell's `ms`); beside
   * {@link guard}. "all" where every date is, "none" where none is.
   */
  from(ms: number): Fragment | "all" | "none";
  before(ms: number): Fragment | "all" | "none";
  /** That a date is one of some days, with all that must hold; null where a list is no use. */
  onDays(days: readonly number[]): Fragment | null;
  /** Days up to which a single interval is better listed than compared. */
  readonly listsUpTo: number;
  /** Closes the open side of a range, where that spares the database from reading what is no date. */
  readonly closed: { readonly from: Fragment | null; readonly before: Fragment | null };
  /** The last days of dates without a day; absent where it has none of them, or they are their first day. */
  readonly last?: LastDays;
  /** What orders by date; NULL or of no account where there is none. */
  readonly order: Fragment;
  /** Two columns whose orders have the same scale can be compared as they are; null for none. */
  readonly scale: string | null;
  /** Milliseconds, as a cell's `ms`; NULL unless the cell is dated. */
  readonly millis: Fragment;
  /**
   * The date as one of the database's own type, of which it works out fields: of instants that in
   * UTC. Of no account unless the cell is dated.
   */
  readonly calendarDate: Fragment;
  /** The date of what {@link order} has, as a cell's `ms`; NaN where the cell is not dated. */
  readonly msOf: (ordered: string | number) => number;
  /** Whether stored values are in the order of their dates, so that an index finds ranges. */
  readonly keepsOrder: boolean;
  /** Whether {@link order} is of the database's own type of days. */
  readonly isDayTyped: boolean;
  /** Whether values that are alike as dates may differ as they are stored. */
  readonly isFiner: boolean;
  /** Whether {@link order} is milliseconds that are worked out at length: it should stand but once. */
  readonly isWorkedOut?: boolean;
  /** Whether {@link millis} takes long to write or to work out: what is made of a date begins with that, once. */
  readonly isLong?: boolean;
  /** Whether cells without a date are NULL in {@link order}, which puts them on one side. */
  readonly groupNulls: boolean;
}

/** The distinct values of a text column: beside its text a record has the number of it. */
export interface StoredDictionary {
  /** The physical column of the number; NULL where the text is blank. */
  readonly code: string;
  /** The value of each number, counted from 1; records need not have all of them. */
  readonly values: readonly string[];
}

/** The cells of a text column. */
export interface StoredStrings extends StoredCells {
  /** The text, compared character by character. */
  readonly exact: Fragment;
  /** The folded text, compared character by character. */
  readonly folded: Fragment;
  /** Whether the folded text is NULL where the text is blank. */
  readonly blankIsNull: boolean;
  /** The plain column, by which an index finds what is equal; null where it is of no use. */
  readonly bare: Fragment | null;
  /** The numbers of its values; null where it has none. */
  readonly dictionary: StoredDictionary | null;
}

/** The cells of a column of yes and no. */
export interface StoredBooleans extends StoredCells {
  readonly isTrue: Fragment;
  readonly isFalse: Fragment;
  /** 1 for yes, 0 for no, NULL for neither. */
  readonly value: Fragment;
}

/** The cells of a column of numbers. */
export interface StoredNumbers extends StoredCells {
  readonly value: Fragment;
}
