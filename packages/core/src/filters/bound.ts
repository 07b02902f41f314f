import {
  MS_PER_DAY,
  UTC,
  dayNumber,
  findZone,
  wallMs,
  type Edge,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import { failure, fault, success, type Result } from "../faults/index.js";
import { MOST_INTERVALS, firstMoment, recurringIntervals } from "../windows/index.js";
import type { DateCondition, Filter, RecurringStretch } from "./filter.js";

/** The least and the greatest date of a column, in milliseconds as in a cell of its kind. */
export interface ColumnExtent {
  readonly first: number;
  readonly last: number;
}

/** Days beyond the extent that are looked at too: for zones, and records that come meanwhile. */
const MARGIN_DAYS = 366;
const FIRST_DAY = dayNumber(1, 1, 1);
const END_DAY = dayNumber(10_000, 1, 1);

/** The columns of which parts recur without end in a tree. */
export function endlessColumns(filter: Filter): readonly string[] {
  switch (filter.kind) {
    case "all":
    case "any":
      return [...new Set(filter.of.flatMap(endlessColumns))];
    case "not":
      return endlessColumns(filter.of);
    case "date":
      return filter.recurring.length > 0 ? [filter.column] : [];
    default:
      return [];
  }
}

/**
 * The same tree with the parts that recur laid out over the dates that there are, so that only
 * plain stretches are left, which an index serves. A column without an extent has no date at all.
 *
 * Fails with `window.tooMany` beyond {@link MOST_INTERVALS} stretches in the whole tree.
 */
export function laidOut(
  filter: Filter,
  extents: ReadonlyMap<string, ColumnExtent>,
): Result<Filter> {
  const found = layOut(filter, extents);
  if (!found.ok || countStretches(found.value) <= MOST_INTERVALS) return found;
  return failure(fault("window.tooMany", { most: MOST_INTERVALS }));
}

function countStretches(filter: Filter): number {
  switch (filter.kind) {
    case "all":
    case "any":
      return filter.of.reduce((sum, part) => sum + countStretches(part), 0);
    case "not":
      return countStretches(filter.of);
    case "date":
    case "overlap":
      return filter.intervals.length;
    default:
      return 0;
  }
}

function layOut(filter: Filter, extents: ReadonlyMap<string, ColumnExtent>): Result<Filter> {
  switch (filter.kind) {
    case "all":
    case "any": {
      const of: Filter[] = [];
      for (const part of filter.of) {
        const bound = layOut(part, extents);
        if (!bound.ok) return bound;
        of.push(bound.value);
      }
      return success({ kind: filter.kind, of });
    }
    case "not": {
      const bound = layOut(filter.of, extents);
      return bound.ok ? success({ kind: "not", of: bound.value }) : bound;
    }
    case "date":
      return layOutDate(filter, extents.get(filter.column));
    default:
      return success(filter);
  }
}

function layOutDate(
  condition: DateCondition,
  extent: ColumnExtent | undefined,
): Result<DateCondition> {
  const found = [...condition.intervals];
  for (const stretch of extent === undefined ? [] : condition.recurring) {
    const within = closed(stretch.interval, extent, zoneOf(stretch));
    if (within === null) continue;
    const { rules, weeks } = stretch;
    const most = MOST_INTERVALS - found.length;
    const { intervals, isCut } = recurringIntervals(rules, within, zoneOf(stretch), weeks, most);
    if (isCut) return failure(fault("window.tooMany", { most: MOST_INTERVALS }));
    found.push(...intervals);
  }
  return success({ ...condition, intervals: found, recurring: [] });
}

function zoneOf({ zone }: RecurringStretch): Zone {
  const found = findZone(zone);
  return found.ok ? found.value : UTC;
}

function closed({ start, end }: Interval, extent: ColumnExtent | undefined, zone: Zone) {
  if (extent === undefined) return null;
  const from = Math.max(FIRST_DAY, Math.floor(extent.first / MS_PER_DAY) - MARGIN_DAYS);
  const to = Math.min(END_DAY, Math.floor(extent.last / MS_PER_DAY) + MARGIN_DAYS);
  const [first, last] = [from, to].map((day): Edge => ({
    wall: wallMs(day * MS_PER_DAY),
    instant: firstMoment(day, zone),
  }));
  if (first === undefined || last === undefined) return null;
  const within = {
    start: start === null || start.wall < first.wall ? first : start,
    end: end === null || end.wall > last.wall ? last : end,
  };
  return within.start.wall < within.end.wall ? within : null;
}
