import {
  MS_PER_DAY,
  MS_PER_HOUR,
  civilDay,
  dayOf,
  epochMs,
  wallAt,
  wallMs,
  weekday,
  type WallMs,
} from "../calendar/index.js";
import type { Catalogue, DateColumn } from "../filters/index.js";
import { dateTextMs, type DateKind } from "../reading/index.js";
import type { RecordValue } from "./answers.js";
import { momentOf, operandsOf, type DerivingContext } from "./computed.js";
import { NOW, type DerivedColumn, type DerivedPart } from "./columns.js";

/** How columns that are worked out depend on the instant of the request: not, by the day, or always. */
export function derivedMovement(
  derived: Readonly<Record<string, DerivedColumn>>,
  columns: Catalogue,
): "never" | "steps" | "always" {
  const moving = Object.values(derived).filter(
    (each) => each.kind === "days" && (each.from === NOW || each.to === NOW),
  );
  if (moving.length === 0) return "never";
  const isInstant = moving.some((each) =>
    operandsOf(each).some((name) => {
      const column = columns.get(name);
      return column?.type === "date" && column.kind === "instant";
    }),
  );
  return isInstant ? "always" : "steps";
}

/** What a derived column is in a record, whose values are as they are sent. */
export function derivedValue(
  derived: DerivedColumn,
  record: Readonly<Record<string, RecordValue>>,
  { columns, asOf, zone }: DerivingContext,
): number | null {
  const kindOf = (name: string) => (columns.get(name) as DateColumn | undefined)?.kind;
  if (derived.kind === "part") {
    const kind = kindOf(derived.column) ?? "date";
    const ms = msOf(record[derived.column]);
    if (ms === null) return null;
    return partOf(derived.part, kind === "instant" ? wallAt(zone, epochMs(ms)) : wallMs(ms));
  }
  const { from, to } = derived;
  const kind = kindOf(from) ?? kindOf(to) ?? "date";
  const [first, last] = [from, to].map((name) =>
    name === NOW ? momentOf(kind, asOf, zone) : msOf(record[name]),
  );
  return first == null || last == null ? null : daysBetween(first, last, kind);
}

function daysBetween(first: number, last: number, kind: DateKind): number {
  if (kind === "instant") return Math.trunc((last - first) / MS_PER_DAY) + 0;
  return Math.floor(last / MS_PER_DAY) - Math.floor(first / MS_PER_DAY);
}

/** A date as it is sent, in milliseconds of its own face. */
function msOf(value: RecordValue | undefined): number | null {
  if (typeof value !== "string") return null;
  const ms = dateTextMs(value);
  return Number.isNaN(ms) ? null : ms;
}

function partOf(part: DerivedPart, wall: WallMs): number {
  const day = dayOf(wall);
  const { year, month, day: dayOfMonth } = civilDay(day);
  switch (part) {
    case "year":
      return year;
    case "quarter":
      return Math.ceil(month / 3);
    case "month":
      return month;
    case "day":
      return dayOfMonth;
    case "weekday":
      return weekday(day);
    case "hour":
      return Math.floor((wall - day * MS_PER_DAY) / MS_PER_HOUR);
  }
}
