import type { TimelineAnswer } from "@orisma/core/internal";

/** A unit of time on the ribbon. */
export type Bucket = TimelineAnswer["buckets"][number];

/** Edges between the units, counted from the earliest: a window is two of them. */
export interface EdgePair {
  readonly start: number;
  readonly end: number;
}

/** The edges at which a window begins and ends, or the nearest to them; open ends are the outermost. */
export function edgesOf(
  buckets: readonly Bucket[],
  start: string | null,
  end: string | null,
): EdgePair {
  const from = start === null ? 0 : buckets.findIndex(({ endLocal }) => (endLocal ?? "") > start);
  const to =
    end === null
      ? buckets.length
      : buckets.findLastIndex(({ startLocal }) => (startLocal ?? "") < end) + 1;
  return { start: from < 0 ? buckets.length : from, end: to };
}

/** The edges around the units in which dates lie, from the first of them to the last; local times. */
export function edgesAround(buckets: readonly Bucket[], first: string, last: string): EdgePair {
  const unitOf = (text: string) => {
    const moment = text.length === DAY_LENGTH ? `${text}T00:00:00` : text;
    return buckets.findLastIndex(({ startLocal }) => (startLocal ?? "") <= moment);
  };
  return { start: Math.max(0, unitOf(first)), end: Math.max(0, unitOf(last) + 1) };
}

const DAY_LENGTH = "2025-02-28".length;

/** Records between two edges, as far as the units on the ribbon can say. */
export function recordsBetween(buckets: readonly Bucket[], { start, end }: EdgePair): number {
  return buckets.slice(start, end).reduce((sum, { records }) => sum + records, 0);
}

/** The days of ends that were not moved, which may lie inside of a unit. */
export interface KeptDays {
  readonly first?: string | undefined;
  readonly last?: string | undefined;
}

/** The days of a window's ends that stay where they are; none for one that is at a time of day. */
export function keptDays(
  window: { readonly start: string | null; readonly end: string | null } | null,
  set: EdgePair,
  moved: EdgePair,
): KeptDays {
  const { start = null, end = null } = window ?? {};
  const isDay = (text: string | null): text is string => text?.endsWith("T00:00:00") === true;
  return {
    first: moved.start === set.start && isDay(start) ? dayOf(start) : undefined,
    last: moved.end === set.end && isDay(end) ? dayBefore(end) : undefined,
  };
}

/** What an interval of units is in the notation of windows, open where it reaches beyond the ribbon. */
export function windowBetween(
  { buckets, unit }: Pick<TimelineAnswer, "buckets" | "unit">,
  { start, end }: EdgePair,
  { first: firstDay, last: lastDay }: KeptDays = {},
): string | null {
  const [first, last] = [buckets[start], buckets[end - 1]];
  if (first?.startLocal == null || last?.endLocal == null) return null;
  const [from, to] = [partOf(first, unit), partOf(last, unit)];
  if ((firstDay !== undefined || lastDay !== undefined) && unit !== "hour") {
    return `${firstDay ?? dayOf(first.startLocal)}/${lastDay ?? dayBefore(last.endLocal)}`;
  }
  if (!NAMED.has(unit)) {
    // Named by their days, since the last of them is not the last that is in.
    return `${dayOf(first.startLocal)}/${dayBefore(last.endLocal)}`;
  }
  return from === to ? from : `${from}/${to}`;
}

/** Units whose first day, cut short, is a window that is all of them. */
const NAMED: ReadonlySet<TimelineAnswer["unit"]> = new Set(["hour", "day", "month", "year"]);

function partOf({ startLocal }: Bucket, unit: TimelineAnswer["unit"]): string {
  const text = startLocal ?? "";
  switch (unit) {
    case "hour":
      return text.slice(0, 13);
    case "month":
      return text.slice(0, 7);
    case "year":
      return text.slice(0, 4);
    default:
      return dayOf(text);
  }
}

function dayOf(text: string): string {
  return text.slice(0, 10);
}

function dayBefore(text: string): string {
  const day = Date.parse(`${dayOf(text)}T00:00:00Z`);
  return new Date(day - 86_400_000).toISOString().slice(0, 10);
}

/** How a unit is called at its place: short, and with its year where that begins. */
export function nameOf({ startLocal }: Bucket, unit: TimelineAnswer["unit"]): string {
  const text = startLocal ?? "";
  if (unit === "year") return text.slice(0, 4);
  if (unit === "hour") return text.slice(11, 16);
  const day = new Date(`${dayOf(text)}T00:00:00Z`);
  const format = (options: Intl.DateTimeFormatOptions) =>
    new Intl.DateTimeFormat(undefined, { timeZone: "UTC", ...options }).format(day);
  if (unit === "month" || unit === "quarter") return format({ month: "short", year: "numeric" });
  return format({ day: "numeric", month: "short" });
}
