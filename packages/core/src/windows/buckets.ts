import {
  MS_PER_DAY,
  dayOf,
  epochMs,
  wallAt,
  wallMs,
  type Edge,
  type EpochMs,
  type WallMs,
  type Zone,
} from "../calendar/index.js";
import { firstMoment } from "./edge.js";
import { unitAround, type DayUnit } from "./units.js";
import type { CalendarSettings } from "./settings.js";

/** The units of time into which records can be counted. */
export const BUCKET_UNITS = [
  "hour",
  "day",
  "week",
  "month",
  "quarter",
  "year",
  "fiscalquarter",
  "fiscalyear",
] as const;
export type BucketUnit = (typeof BUCKET_UNITS)[number];

/** Buckets of one answer at most. */
export const MAX_BUCKETS = 2_000;

const MS_PER_HOUR = 3_600_000;

/**
 * The edges of the units that cover an interval between two wall-clock times, both in: one more than
 * there are units. Units of days begin at the first moment of their day in the zone; hours are
 * elapsed ones from the beginning of each day, so that a day of 25 hours has as many. Null beyond
 * {@link MAX_BUCKETS}.
 */
export function bucketEdges(
  first: WallMs,
  last: WallMs,
  unit: BucketUnit,
  { zone, calendar }: { readonly zone: Zone; readonly calendar: CalendarSettings },
): readonly Edge[] | null {
  const edges: Edge[] = [];
  const [from, to] = [dayOf(first), dayOf(last)];
  const span: DayUnit = unit === "hour" ? "day" : unit;
  for (let { start, end } = unitAround(from, span, 0, calendar); ;) {
    edges.push(...(unit === "hour" ? hoursOf(start, zone) : [dayEdge(start, zone)]));
    if (edges.length > MAX_BUCKETS) return null;
    if (end > to) {
      edges.push(dayEdge(end, zone));
      return edges;
    }
    ({ start, end } = unitAround(end, span, 0, calendar));
  }
}

function dayEdge(day: number, zone: Zone): Edge {
  return { wall: wallMs(day * MS_PER_DAY), instant: firstMoment(day, zone) };
}

/** The beginnings of the hours of a day, as many as it has. */
function hoursOf(day: number, zone: Zone): readonly Edge[] {
  const [start, end] = [firstMoment(day, zone), firstMoment(day + 1, zone)];
  const edges: Edge[] = [];
  for (let at: number = start; at < end; at += MS_PER_HOUR) {
    const instant: EpochMs = epochMs(at);
    edges.push({ instant, wall: wallAt(zone, instant) });
  }
  return edges;
}
