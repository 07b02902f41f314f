import type { PatternPiece } from "../filters/index.js";
import type { FixedForm } from "../reading/index.js";
import type { WeekRules } from "../windows/index.js";
import type { CalendarField, Fragment } from "./fragment.js";

/** The databases for which filters are written. */
export const DATABASES = ["mariadb", "postgresql", "sqlite"] as const;
export type Database = (typeof DATABASES)[number];

/**
 * How a database writes what others write in another way. One module a database implements it;
 * nothing else knows which one is meant.
 */
export interface Dialect {
  readonly database: Database;
  /** Whether NULL counts as the lowest value in an order, or as the highest. */
  readonly nullIs: "lowest" | "highest";
  quoteName(name: string): string;
  /** The placeholder of the value at a position, counted from 1. */
  placeholder(position: number): string;
  /** A text of imported tables, compared character by character whatever the collation of its column. */
  exact(text: Fragment): Fragment;
  /** The same for a text of a column of whatever characters. */
  exactOf(text: Fragment): Fragment;
  /** A text with its letters made small: the plain ones at least. */
  small(text: Fragment): Fragment;
  /** Whether a text has nothing but white space; unknown for NULL. */
  isWhite(text: Fragment): Fragment;
  /** Whether a text has a form just as it is, and names a day and a time that there are. */
  isDateText(text: Fragment, form: FixedForm): Fragment;
  /** Whether a text, compared character by character, has the form of a pattern. */
  hasPattern(text: Fragment, pattern: readonly PatternPiece[]): Fragment;
  /** Strings one after the other. */
  concat(strings: readonly Fragment[]): Fragment;
  /** How many bytes a text has in UTF-8. */
  bytes(text: Fragment): Fragment;
  /** A column as the text in which the database shows it. */
  shown(column: Fragment): Fragment;
  /** A decimal number that came as a text, compared exactly where the database can. */
  decimal(value: Fragment): Fragment;
  /** A point in time in UTC, written `2024-03-05 14:30:00`, to compare a column with. */
  moment(value: Fragment): Fragment;
  /**
   * Milliseconds from 1970-01-01 00:00 to a date and time: a column of the database's own type,
   * or a text as `2024-03-05 14:30:00.000`.
   */
  millis(date: Fragment): Fragment;
  /** A whole number that is no less than 0 and spreads the keys of records evenly. */
  spread(key: Fragment): Fragment;
  /** The date and time that is so many milliseconds after 1970-01-01 00:00. */
  dateOfMillis(millis: Fragment): Fragment;
  /** A column that is a point in time, as the date and time that it is in UTC. */
  utcDate(column: Fragment): Fragment;
  /** A field of a date and time of the database's own type, as a whole number. */
  dateField(field: CalendarField, date: Fragment): Fragment;
  /** The number of the week of a date; null for rules of which the database has no function. */
  weekNumber(date: Fragment, weeks: WeekRules): Fragment | null;
  /** A date and time moved on by whole seconds. */
  shifted(date: Fragment, seconds: Fragment): Fragment;
  /**
   * What is always true and keeps a database from answering a subquery for one record by what it found for another,
   * where a collation takes their strings for the same; null where it does no such thing.
   */
  readonly byItself: Fragment | null;
  /** What is made of a whole number that has a name in it, and is worked out once. */
  workedOnce(value: Fragment, name: Fragment, made: Fragment): Fragment;
  /** Milliseconds of a column that is a point in time. */
  momentMillis(column: Fragment): Fragment;
  /** Whole days of a number of milliseconds, what is left over cut off. */
  wholeDays(millis: Fragment): Fragment;
  /** A number rounded down. */
  floor(number: Fragment): Fragment;
  /** Whether a column of yes and no has the one, or the other; of numbers all but 0 are yes. */
  isTrue(column: Fragment): Fragment;
  isFalse(column: Fragment): Fragment;
  /** Whether a date of the database's own type is a day that there is. */
  isRealDay(column: Fragment): Fragment | null;
}
