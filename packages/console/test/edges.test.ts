import {
  BUCKET_UNITS,
  ISO_CALENDAR,
  UTC,
  bucketEdges,
  epochMs,
  findZone,
  intervalText,
  readWindow,
  resolveWindow,
  wallMs,
  type BucketUnit,
  type IntervalText,
} from "@orisma/core/internal";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  edgesAround,
  edgesOf,
  keptDays,
  recordsBetween,
  windowBetween,
  type Bucket,
} from "../src/listing/ribbon/ribbon.js";

const SEED = 33_120;
const LONDON = findZone("Europe/London");
const ZONE = LONDON.ok ? LONDON.value : UTC;
const CALENDARS = [ISO_CALENDAR, { ...ISO_CALENDAR, weekStart: 6, firstWeekDays: 1 }];
const DAY = 86_400_000;
const LENGTHS: Readonly<Record<BucketUnit, number>> = {
  hour: 1,
  day: 30,
  week: 100,
  month: 500,
  quarter: 900,
  fiscalquarter: 900,
  fiscalyear: 4_000,
  year: 4_000,
};

/** A ribbon as the service reports it: units side by side, each with some records. */
function ribbonOf(first: number, unit: BucketUnit, calendar: (typeof CALENDARS)[number]) {
  const last = wallMs(first + LENGTHS[unit] * DAY);
  const edges = bucketEdges(wallMs(first), last, unit, { zone: ZONE, calendar }) ?? [];
  const buckets = edges.slice(1).map((end, at): Bucket => ({
    ...intervalText({ start: edges[at] ?? null, end }),
    records: at % 5,
  }));
  return { buckets, unit };
}

/** What a window comes to where the listing is. */
function resolved(window: string | null): IntervalText {
  const read = readWindow(window ?? "");
  if (!read.ok) throw new Error(`${window} is no window`);
  const context = { asOf: epochMs(0), zone: ZONE, calendar: ISO_CALENDAR };
  const found = resolveWindow(read.value.window, context);
  const [interval, another] = found.ok ? found.value.intervals : [];
  if (interval === undefined || another !== undefined) throw new Error(`${window} is no interval`);
  return intervalText(interval);
}

const ribbon = fc
  .record({
    day: fc.integer({ min: Date.UTC(1990, 0, 1) / DAY, max: Date.UTC(2040, 0, 1) / DAY }),
    unit: fc.constantFrom(...BUCKET_UNITS),
    calendar: fc.constantFrom(...CALENDARS),
  })
  .map(({ day, unit, calendar }) => ribbonOf(day * DAY, unit, calendar));
const drawn = fc
  .tuple(ribbon, fc.nat(), fc.nat())
  .map(([of, a, b]) => {
    const [x, y] = [a % (of.buckets.length + 1), b % (of.buckets.length + 1)];
    return { ...of, pair: { start: Math.min(x, y), end: Math.max(x, y) } };
  })
  .filter(({ pair }) => pair.start < pair.end);

describe("edges of the ribbon", () => {
  test("are a window that begins and ends just there, and that is drawn there again", () => {
    fc.assert(
      fc.property(drawn, ({ buckets, unit, pair }) => {
        // An hour that the clocks show twice cannot be named apart from the other.
        const names = buckets.map(({ startLocal }) => startLocal);
        fc.pre(new Set(names).size === names.length);
        const window = resolved(windowBetween({ buckets, unit }, pair));
        const { start } = buckets[pair.start] ?? {};
        const { end } = buckets[pair.end - 1] ?? {};
        expect([window.start, window.end]).toEqual([start, end]);
        expect(edgesOf(buckets, window.startLocal, window.endLocal)).toEqual(pair);
      }),
      { seed: SEED, numRuns: 600 },
    );
  });

  test("that are not moved stay at their day, inside of a unit too", () => {
    fc.assert(
      fc.property(drawn, fc.nat(40), fc.boolean(), (of, inside, isStart) => {
        const { buckets, unit, pair } = of;
        fc.pre(unit !== "hour");
        const [first, last] = [buckets[pair.start], buckets[pair.end - 1]];
        const day = (text: string | null | undefined, by: number) =>
          new Date(Date.parse(`${(text ?? "").slice(0, 10)}T00:00:00Z`) + by * DAY)
            .toISOString()
            .slice(0, 10);
        const from = day(first?.startLocal, inside);
        const to = day(last?.endLocal, -1 - inside);
        fc.pre(from <= to && day(first?.endLocal, 0) > from && day(last?.startLocal, 0) <= to);
        const window = resolved(`${from}/${to}`);
        const ends = { start: window.startLocal, end: window.endLocal };
        const set = edgesOf(buckets, ends.start, ends.end);
        expect(set).toEqual(pair);
        const moved = isStart ? { ...set, start: 0 } : { ...set, end: buckets.length };
        fc.pre(moved.start !== set.start || moved.end !== set.end);
        const after = resolved(windowBetween({ buckets, unit }, moved, keptDays(ends, set, moved)));
        expect(after.startLocal).toBe(isStart ? buckets[0]?.startLocal : window.startLocal);
        expect(after.endLocal).toBe(isStart ? window.endLocal : buckets.at(-1)?.endLocal);
      }),
      { seed: SEED, numRuns: 600 },
    );
  });

  test("that lie beyond the ribbon are its own", () => {
    const { buckets } = ribbonOf(Date.UTC(2025, 1, 1), "day", ISO_CALENDAR);
    const all = buckets.length;
    expect(edgesOf(buckets, null, null)).toEqual({ start: 0, end: all });
    expect(edgesOf(buckets, "2024-01-01", "2026-01-01")).toEqual({ start: 0, end: all });
    expect(edgesOf(buckets, "2026-01-01", null)).toEqual({ start: all, end: all });
    expect(edgesOf(buckets, null, "2024-01-01")).toEqual({ start: 0, end: 0 });
    // A window inside of one unit is drawn as the whole of it.
    const noon = ["2025-02-03T09:00:00", "2025-02-03T12:00:00"] as const;
    expect(edgesOf(buckets, ...noon)).toEqual({ start: 2, end: 3 });
  });

  test("around dates are those of the units that have them, on their first day too", () => {
    const months = ribbonOf(Date.UTC(2025, 0, 1), "month", ISO_CALENDAR).buckets;
    expect(edgesAround(months, "2025-03-01", "2025-03-31")).toEqual({ start: 2, end: 3 });
    expect(edgesAround(months, "2025-02-28", "2025-03-01")).toEqual({ start: 1, end: 3 });
    expect(edgesAround(months, "2025-03-01T00:00:00", "2025-04-30T23:59:59.999")).toEqual({
      start: 2,
      end: 4,
    });
    expect(edgesAround(months, "2024-12-31", "2025-01-01")).toEqual({ start: 0, end: 1 });
    expect(edgesAround(months, "2031-01-01", "2031-01-01")).toEqual({
      start: months.length - 1,
      end: months.length,
    });
  });

  test("have the records between them; nothing lies between an edge and itself", () => {
    const { buckets } = ribbonOf(Date.UTC(2025, 1, 1), "day", ISO_CALENDAR);
    expect(recordsBetween(buckets, { start: 1, end: 4 })).toBe(1 + 2 + 3);
    expect(recordsBetween(buckets, { start: 4, end: 4 })).toBe(0);
  });

  test("at a time of day are moved with the unit, since a day would say something else", () => {
    const window = { start: "2025-02-03T09:00:00", end: "2025-02-05T00:00:00" };
    const set = { start: 2, end: 4 };
    expect(keptDays(window, set, { start: 2, end: 6 })).toEqual({});
    expect(keptDays(window, set, { start: 0, end: 4 })).toEqual({ last: "2025-02-04" });
    expect(keptDays(null, set, { start: 0, end: 4 })).toEqual({});
  });
});
