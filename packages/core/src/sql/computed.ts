import type { Zone } from "../calendar/index.js";
import type { DateKind } from "../reading/index.js";
import { daysBetween } from "./attached-days.js";
import type { StoredDates, StoredNumbers } from "./cells.js";
import { dateField, joined, numeral, sql, joinConditions, type Fragment } from "./fragment.js";
import { onWallClock } from "./recurring.js";
import { datesOf, type ComputedColumn, type StoredTable } from "./storage.js";

/** The parts of a date that are worked out as numbers; days of the week from 1 for Monday. */
export const DATE_NUMBERS = ["year", "quarter", "month", "day", "weekday", "hour"] as const;
export type DateNumber = (typeof DATE_NUMBERS)[number];

/** A number that is worked out of the dates of a record; none where one of them is none. */
export type Computed =
  /** A part of a date; of an instant in a zone. */
  | {
      readonly kind: "part";
      readonly part: DateNumber;
      readonly column: string;
      readonly zone: Zone;
    }
  /**
   * Whole days from one date to another, each a column or a moment in milliseconds of their kind: of
   * the calendar, and between instants elapsed ones of 24 hours.
   */
  | {
      readonly kind: "days";
      readonly from: string | number;
      readonly to: string | number;
      readonly dates: DateKind;
    };

/** A column of a table whose numbers are worked out by the database. */
export function computedColumn(name: string, computed: Computed): ComputedColumn {
  return {
    column: { name, type: "integer" },
    operands: operandsOf(computed),
    numbers: (table) => numbersIn(computed, table),
  };
}

/** The same table with columns that are worked out of its own. */
export function withComputed(
  table: StoredTable,
  computed: ReadonlyMap<string, ComputedColumn>,
): StoredTable {
  return computed.size === 0 ? table : { ...table, computed };
}

function operandsOf(computed: Computed): readonly string[] {
  const all = computed.kind === "part" ? [computed.column] : [computed.from, computed.to];
  return all.filter((each) => typeof each === "string");
}

function numbersIn(computed: Computed, table: StoredTable): StoredNumbers {
  const dates = operandsOf(computed).map((name) => datesOf(name, table));
  const isFilled = joinConditions(
    dates.map((each) => each.isFilled),
    sql` AND `,
    sql`1 = 1`,
  );
  const isNotFilled = joinConditions(
    dates.map((each) => each.isNotFilled),
    sql` OR `,
    sql`1 = 0`,
  );
  const number =
    computed.kind === "days"
      ? daysIn(computed, table)
      : partIn(computed, datesOf(computed.column, table));
  return {
    value: sql`CASE WHEN ${isFilled} THEN ${number} END`,
    isFilled,
    isNotFilled,
    isBlank: isNotFilled,
    isNotBlank: isFilled,
    isUnreadable: sql`1 = 0`,
    isNotUnreadable: sql`1 = 1`,
  };
}

function daysIn(
  { from, to, dates: kind }: Extract<Computed, { readonly kind: "days" }>,
  table: StoredTable,
): Fragment {
  const end = (of: string | number) => (typeof of === "number" ? of : datesOf(of, table).millis);
  return daysBetween(end(from), end(to), kind);
}

function partIn(
  { part, zone }: Extract<Computed, { readonly kind: "part" }>,
  dates: StoredDates,
): Fragment {
  return onWallClock(zone, dates, (date, years) => {
    if (part === "year" && years !== 0) return sql`(${dateField(part, date)} + ${numeral(years)})`;
    if (part !== "quarter") return dateField(part, date);
    const month = dateField("month", date);
    const quarters = [3, 6, 9].map(
      (last, index) => sql` WHEN ${month} <= ${numeral(last)} THEN ${numeral(index + 1)}`,
    );
    return sql`CASE${joined(quarters, sql``)} ELSE ${numeral(4)} END`;
  });
}
