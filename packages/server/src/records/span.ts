import {
  MAX_BUCKETS,
  bucketEdges,
  epochMs,
  fault,
  requiredDates,
  wallAt,
  wallMs,
  type BucketUnit,
  type DateColumn,
  type Edge,
  type Interval,
} from "@orisma/core/internal";
import { problemOf } from "../http/index.js";
import type { ServedListing } from "../listings/index.js";
import { extentOf } from "./parts.js";
import type { RunningRequest } from "./prepared.js";

/** The interval in which the dates of a column must lie, where it has two ends. */
export function windowOf({ planned }: RunningRequest, name: string): Interval | null {
  const intervals = requiredDates(planned).flatMap(({ filter }) => {
    const [interval, another] = filter.intervals;
    const isOne =
      filter.side === "inside" && another === undefined && filter.recurring.length === 0;
    return filter.column === name && isOne && interval !== undefined ? [interval] : [];
  });
  const starts = intervals.flatMap(({ start }) => start ?? []);
  const ends = intervals.flatMap(({ end }) => end ?? []);
  const start = starts.sort((a, b) => b.instant - a.instant)[0];
  const end = ends.sort((a, b) => a.instant - b.instant)[0];
  if (start === undefined || end === undefined || start.wall >= end.wall) return null;
  return { start, end };
}

/** From and to which wall-clock time a timeline goes: the window, else the dates that there are. */
export async function spanOf(
  prepared: RunningRequest,
  column: DateColumn,
  window: Interval | null,
): Promise<{ readonly first: number; readonly last: number } | null> {
  if (window?.start != null && window.end !== null) {
    return { first: window.start.wall, last: window.end.wall - 1 };
  }
  const found = await extentOf(column.name, prepared);
  if (found === null) return null;
  const { zone } = prepared.listing;
  const wall = (ms: number) => (column.kind === "instant" ? wallAt(zone, epochMs(ms)) : ms);
  return { first: wall(found.first), last: wall(found.last) };
}

/** The finest unit of which an interval has a moderate number. */
export function unitFor({
  first,
  last,
}: {
  readonly first: number;
  readonly last: number;
}): BucketUnit {
  const days = (last - first) / 86_400_000;
  if (days <= 3) return "hour";
  if (days <= 92) return "day";
  if (days <= 731) return "week";
  return days <= 3_660 ? "month" : "year";
}

export function edgesOf(
  { first, last }: { readonly first: number; readonly last: number },
  unit: BucketUnit,
  { zone, calendar }: ServedListing,
): readonly Edge[] {
  const edges = bucketEdges(wallMs(first), wallMs(last), unit, { zone, calendar });
  if (edges !== null) return edges;
  const facts = {
    accepted: `a coarser one, or a shorter window: ${MAX_BUCKETS} units at most`,
  };
  throw problemOf([fault("parameter.value", facts, { parameter: "unit", value: unit })]);
}

/** The unit in which a moment lies, counted from 0; -1 for none. */
export function placeOf(ms: number, edges: readonly Edge[], { kind }: DateColumn): number {
  let [low, high] = [0, edges.length];
  // The first edge after it, by halves: there may be as many moments as days.
  while (low < high) {
    const middle = (low + high) >> 1;
    const edge = edges[middle];
    if (edge === undefined || (kind === "instant" ? edge.instant : edge.wall) > ms) high = middle;
    else low = middle + 1;
  }
  return low === edges.length ? -1 : low - 1;
}
