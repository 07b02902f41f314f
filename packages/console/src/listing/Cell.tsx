import type { RecordValue } from "@orisma/core/internal";
import type { ReactNode } from "react";
import type { ShownColumn } from "./narrowing.js";

export interface CellProps {
  readonly column: ShownColumn;
  /** The listing's zone, by which the day of an instant is judged. */
  readonly zone: string;
  readonly isMainDate: boolean;
  readonly value: RecordValue;
  /** How the listing shows it, where it says so. */
  readonly display: string | undefined;
  /** The text as it came, where it could not be read. */
  readonly unreadable: string | undefined;
  /** Whether thousands are set apart: those of one column alike. */
  readonly isGrouped: boolean;
}

/** One value of a record: dates in the reader's own form, what could not be read as it came. */
export function CellFace(props: CellProps): ReactNode {
  const { column, zone, isMainDate, value, display, unreadable, isGrouped } = props;
  if (unreadable !== undefined) {
    return (
      <>
        <span
          className="text-error underline decoration-wavy underline-offset-4"
          title={`“${unreadable}” is not ${KINDS[column.type]}`}
        >
          {unreadable}
        </span>
        <span className="sr-only"> (unreadable)</span>
      </>
    );
  }
  if (value === null || value === "") {
    return (
      <>
        <span aria-hidden>–</span>
        <span className="sr-only">blank</span>
      </>
    );
  }
  switch (column.type) {
    case "date":
      return (
        <time
          dateTime={String(value)}
          title={String(value)}
          className={isMainDate ? "font-semibold text-primary" : ""}
        >
          {display ?? dateForReader(String(value), column.kind ?? "date", zone)}
        </time>
      );
    case "integer":
    case "decimal":
      return display ?? numberForReader(value, isGrouped);
    case "boolean":
      return display ?? (value === true ? "yes" : "no");
    case "text":
      return display ?? value;
  }
}

const KINDS: Readonly<Record<ShownColumn["type"], string>> = {
  date: "a date",
  integer: "a whole number",
  decimal: "a number",
  boolean: "yes or no",
  text: "text",
};

const DAY = { day: "numeric", month: "short", year: "numeric" } as const;
const TIME = { hour: "2-digit", minute: "2-digit" } as const;
const FORMATS = {
  date: new Intl.DateTimeFormat(undefined, { ...DAY, timeZone: "UTC" }),
  local: new Intl.DateTimeFormat(undefined, { ...DAY, ...TIME, timeZone: "UTC" }),
};
const INSTANTS = new Map<string, Intl.DateTimeFormat>();

function instantFormat(timeZone: string): Intl.DateTimeFormat {
  const found =
    INSTANTS.get(timeZone) ??
    new Intl.DateTimeFormat(undefined, { ...DAY, ...TIME, timeZone, timeZoneName: "short" });
  INSTANTS.set(timeZone, found);
  return found;
}

/** With every decimal that there is. */
const NUMBERS = {
  grouped: new Intl.NumberFormat(undefined, { maximumFractionDigits: 20 }),
  plain: new Intl.NumberFormat(undefined, { useGrouping: false, maximumFractionDigits: 20 }),
};

/** Whether thousands of a column are set apart: where one is of five digits, so that years are not. */
export function groupsThousands(values: readonly (RecordValue | undefined)[]): boolean {
  return values.some((value) => typeof value === "number" && Math.abs(value) >= 10_000);
}

/** Days and wall-clock times as they are; an instant on the clocks of the listing, which it names. */
function dateForReader(text: string, kind: NonNullable<ShownColumn["kind"]>, zone: string): string {
  if (kind === "instant") return instantFormat(zone).format(new Date(text));
  return FORMATS[kind].format(new Date(kind === "local" ? `${text}Z` : text));
}

function numberForReader(value: RecordValue, isGrouped: boolean): string {
  if (typeof value !== "number") return String(value);
  return NUMBERS[isGrouped ? "grouped" : "plain"].format(value);
}
