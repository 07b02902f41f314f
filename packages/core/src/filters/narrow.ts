import { type DateCondition, type RecurringSpan } from "./conditions/index.js";
import {
  MS_PER_DAY,
  UTC,
  clockPieces,
  dayNumber,
  findZone,
  wallMs,
  type Edge,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import {
  MAX_LISTED_INTERVALS,
  firstMoment,
  recurringIntervals,
  type ClosedInterval,
} from "../windows/index.js";
import type { DateKind } from "../reading/index.js";
import type { Filter } from "./filter.js";

/** The least and the greatest date of a column, in milliseconds as in a cell of its kind. */
export interface ColumnExtent {
  readonly kind: DateKind;
  readonly first: number;
  readonly last: number;
}

/** Days beyond the extent that are laid out too: for zones, and records that come meanwhile. */
const MARGIN_DAYS = 366;
/** Days of an extent over which rules are laid out at most: 200 years. */
const MAX_DAYS = 73_050;
const FIRST_DAY = dayNumber(1, 1, 1);
const END_DAY = dayNumber(10_000, 1, 1);

/** The columns on which a filter has recurring rules. */
export function recurringColumns(filter: Filter): readonly string[] {
  switch (filter.kind) {
    case "all":
    case "any":
      return [...new Set(filter.of.flatMap(recurringColumns))];
    case "not":
      return recurringColumns(filter.of);
    case "date":
      return filter.recurring.length > 0 ? [filter.column] : [];
    default:
      return [];
  }
}

/**
 * The same filter with recurring rules laid out as intervals over the dates that a column has,
 * where they are few enough for an index to find them faster than the rules are tested. On instants
 * rules that stay are parted there, so that those dates are compared with their own changes of the
 * clocks alone.
 *
 * Only speed depends on the extents: beyond them the rules still stand, so that a record which an
 * extent knows nothing of is judged as every other.
 */
export function narrowToExtents(
  filter: Filter,
  extents: ReadonlyMap<string, ColumnExtent>,
): Filter {
  switch (filter.kind) {
    case "all":
    case "any":
      return { kind: filter.kind, of: filter.of.map((part) => narrowToExtents(part, extents)) };
    case "not":
      return { kind: "not", of: narrowToExtents(filter.of, extents) };
    case "date": {
      const extent = extents.get(filter.column);
      return extent === undefined ? filter : narrowDate(filter, extent);
    }
    default:
      return filter;
  }
}

/** The intervals of a rule; null where they are too many, as hours always are. */
function layOut(
  { rules, weeks }: RecurringSpan,
  within: ClosedInterval,
  zone: Zone,
  most: number,
): readonly Interval[] | null {
  if (rules.some(({ name }) => name === "BYHOUR")) return null;
  const { intervals, isCut } = recurringIntervals(rules, within, zone, weeks, most);
  return isCut ? null : intervals;
}

function narrowDate(condition: DateCondition, extent: ColumnExtent): DateCondition {
  const intervals = [...condition.intervals];
  const recurring: RecurringSpan[] = [];
  for (const interval of condition.recurring) {
    const zone = zoneOf(interval);
    const within = commonPart(interval.interval, extent, zone);
    const most = MAX_LISTED_INTERVALS - intervals.length;
    const found = within === null ? null : layOut(interval, within, zone, most);
    const isParted = extent.kind === "instant" && hasChanges(interval, zone);
    if (within === null || (found === null && !isParted)) {
      recurring.push(interval);
      continue;
    }
    if (found === null) recurring.push({ ...interval, interval: within });
    else intervals.push(...found);
    const { start, end } = interval.interval;
    if (start !== within.start) {
      recurring.push({ ...interval, interval: { start, end: within.start } });
    }
    if (end !== within.end) recurring.push({ ...interval, interval: { start: within.end, end } });
  }
  return { ...condition, intervals, recurring };
}

/** Whether the clocks of a zone are ever changed in an interval. */
function hasChanges({ interval: { start, end } }: RecurringSpan, zone: Zone): boolean {
  return clockPieces(zone, start?.instant ?? -Infinity, end?.instant ?? Infinity).length > 1;
}

/** The zone of a recurring interval; UTC where it names none that is known. */
export function zoneOf({ zone }: RecurringSpan): Zone {
  const found = findZone(zone);
  return found.ok ? found.value : UTC;
}

/** What an interval and an extent with its margins have in common; null for nothing, or too much. */
function commonPart(
  { start, end }: Interval,
  extent: ColumnExtent,
  zone: Zone,
): ClosedInterval | null {
  const from = Math.max(FIRST_DAY, Math.floor(extent.first / MS_PER_DAY) - MARGIN_DAYS);
  const to = Math.min(END_DAY, Math.floor(extent.last / MS_PER_DAY) + MARGIN_DAYS);
  const first = dayEdge(from, zone);
  const last = dayEdge(to, zone);
  const within = {
    start: start === null || start.wall < first.wall ? first : start,
    end: end === null || end.wall > last.wall ? last : end,
  };
  const days = (within.end.wall - within.start.wall) / MS_PER_DAY;
  return days > 0 && days <= MAX_DAYS ? within : null;
}

function dayEdge(day: number, zone: Zone): Edge {
  return { wall: wallMs(day * MS_PER_DAY), instant: firstMoment(day, zone) };
}
