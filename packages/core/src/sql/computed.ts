import type { Zone } from "../calendar/index.js";
import { daysSinceYear1 } from "./bare-days.js";
import type { StoredDates, StoredNumbers } from "./cells.js";
import {
  call,
  dateField,
  joined,
  sql,
  together,
  valueOf,
  type CalendarField,
  type Fragment,
} from "./fragment.js";
import { onWallClock } from "./recurring.js";
import { datesOf, type ComputedColumn, type StoredTable } from "./storage.js";

/** The parts of a date that are worked out as numbers; days of the week from 1 for Monday. */
export type ComputedPart = "year" | "quarter" | "month" | "day" | "weekday" | "hour";

/** A number that is worked out of the dates of a record; none where one of them is none. */
export type Computed =
  /** A part of a date; of an instant in a zone. */
  | {
      readonly kind: "part";
      readonly part: ComputedPart;
      readonly column: string;
      readonly zone: Zone;
    }
  /**
   * Whole days from one date to another, each a column or a moment in milliseconds of their kind: of
   * the calendar, and between instants elapsed ones of 24 hours.
   */
  | { readonly kind: "days"; readonly from: string | number; readonly to: string | number };

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
  const isFilled = together(
    dates.map((each) => each.isFilled),
    sql` AND `,
    sql`1 = 1`,
  );
  const isNotFilled = together(
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
  { from, to }: Extract<Computed, { readonly kind: "days" }>,
  table: StoredTable,
): Fragment {
  const [first, last] = [from, to].map((end) =>
    typeof end === "number" ? valueOf(end) : datesOf(end, table).millis,
  ) as [Fragment, Fragment];
  const isInstant = [from, to].some(
    (end) => typeof end === "string" && datesOf(end, table).kind === "instant",
  );
  if (isInstant) return call("wholeDays", sql`${last} - ${first}`);
  return sql`(${daysSinceYear1(last)} - ${daysSinceYear1(first)})`;
}

function partIn(
  { part, zone }: Extract<Computed, { readonly kind: "part" }>,
  dates: StoredDates,
): Fragment {
  return onWallClock(zone, dates, (date) => {
    if (part !== "quarter") return dateField(part satisfies CalendarField, date);
    const month = dateField("month", date);
    const quarters = [3, 6, 9].map(
      (last, index) => sql` WHEN ${month} <= ${valueOf(last)} THEN ${valueOf(index + 1)}`,
    );
    return sql`CASE${joined(quarters, sql``)} ELSE ${valueOf(4)} END`;
  });
}
