import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { dayNumber } from "./days.js";
import { isoInstant, isoWall } from "./text.js";
import { MS_PER_DAY, MS_PER_HOUR, epochMs, wallMs, type WallMs } from "./time.js";
import { UTC, findZone, readWall, wallAt, type Zone } from "./zone.js";

function zone(id: string): Zone {
  const found = findZone(id);
  if (!found.ok) throw new Error(`no zone ${id}`);
  return found.value;
}

function wall(year: number, month: number, day: number, hour = 0, minute = 0): WallMs {
  return wallMs(dayNumber(year, month, day) * MS_PER_DAY + hour * MS_PER_HOUR + minute * 60_000);
}

const AWKWARD = [
  "UTC",
  "Europe/London",
  "Europe/Lisbon",
  "America/Sao_Paulo",
  "America/St_Johns",
  "Pacific/Apia",
  "Australia/Lord_Howe",
  "Asia/Kathmandu",
  "Africa/Casablanca",
  "Africa/Monrovia",
];

describe("zones", () => {
  test("are found in any letter case; an unknown one names the nearest", () => {
    expect(zone("europe/london").id).toBe("Europe/London");
    const found = findZone("Europe/Lodnon");
    expect(found).toMatchObject({
      ok: false,
      faults: [{ code: "zone.unknown", facts: { zone: "Europe/Lodnon" } }],
    });
    for (const none of ["", "+01:00", "Mars/Olympus", "a".repeat(100_000)]) {
      expect(findZone(none).ok).toBe(false);
    }
  });

  test("clocks put forward jump over wall-clock times", () => {
    const found = readWall(zone("Europe/London"), wall(2026, 3, 29, 1, 30));
    expect(found.kind).toBe("never");
    expect(found.kind === "never" && isoInstant(found.change)).toBe("2026-03-29T01:00:00Z");
  });

  test("clocks put back show wall-clock times twice", () => {
    const found = readWall(zone("Europe/London"), wall(2026, 10, 25, 1, 30));
    expect(found.kind === "twice" && [isoInstant(found.earlier), isoInstant(found.later)]).toEqual([
      "2026-10-25T00:30:00Z",
      "2026-10-25T01:30:00Z",
    ]);
  });

  test("a day can lack its midnight, and a zone can lack a day", () => {
    const noMidnight = readWall(zone("America/Sao_Paulo"), wall(2018, 11, 4));
    expect(noMidnight.kind === "never" && isoInstant(noMidnight.change)).toBe(
      "2018-11-04T03:00:00Z",
    );
    const noDay = readWall(zone("Pacific/Apia"), wall(2011, 12, 30, 12));
    expect(noDay.kind === "never" && isoInstant(noDay.change)).toBe("2011-12-30T10:00:00Z");
  });

  test("offsets below the hour and the minute are kept", () => {
    expect(zone("Asia/Kathmandu").offsetAt(epochMs(0))).toBe(5.5 * MS_PER_HOUR);
    expect(zone("Australia/Lord_Howe").offsetAt(epochMs(Date.UTC(2026, 0, 1)))).toBe(
      11 * MS_PER_HOUR,
    );
    expect(zone("Africa/Monrovia").offsetAt(epochMs(Date.UTC(1950, 0, 1)))).toBe(-2_670_000);
  });

  test("every point in time is among those that its wall-clock time names", () => {
    const instants = fc.integer({ min: Date.UTC(1900, 0, 1), max: Date.UTC(2100, 0, 1) });
    fc.assert(
      fc.property(fc.constantFrom(...AWKWARD), instants, (id, ms) => {
        const at = epochMs(ms);
        const shown = wallAt(zone(id), at);
        const found = readWall(zone(id), shown);
        const named =
          found.kind === "once"
            ? [found.instant]
            : found.kind === "twice"
              ? [found.earlier, found.later]
              : [];
        expect(named).toContain(at);
      }),
      { numRuns: 400 },
    );
  });

  test("offsets are those of the runtime at every change of twenty years", () => {
    for (const id of AWKWARD) {
      const format = new Intl.DateTimeFormat("en-GB", {
        timeZone: id,
        hourCycle: "h23",
        hour: "2-digit",
        minute: "2-digit",
      });
      for (
        let day = Date.UTC(2005, 0, 1);
        day < Date.UTC(2025, 0, 1);
        day += 9 * MS_PER_DAY + 5 * MS_PER_HOUR
      ) {
        expect(isoWall(wallAt(zone(id), epochMs(day))).slice(11, 16)).toBe(format.format(day));
      }
    }
  });

  test("universal time has one of everything", () => {
    expect(readWall(UTC, wall(2026, 3, 29, 1, 30))).toEqual({
      kind: "once",
      instant: Date.UTC(2026, 2, 29, 1, 30),
    });
  });

  test("their tables give what the runtime gives, from the first year to the last, day by day", () => {
    const isWhole = process.env.TZ === undefined;
    const every = Intl.supportedValuesOf("timeZone");
    const years = [2, 1_600, 1_844, 1_916, 1_945, 1_976, 2_011, 2_037, 2_099, 2_100, 2_399, 9_998];
    const some = isWhole ? every : AWKWARD;
    expect(every.length).toBeGreaterThan(400);
    const differing: unknown[] = [];
    some.forEach((id, index) => {
      const place = zone(id);
      const format = new Intl.DateTimeFormat("en-CA", {
        timeZone: id,
        dateStyle: "short",
        timeStyle: "medium",
        hourCycle: "h23",
      });
      // Every zone in some of the years, the awkward ones in all of them.
      const seen = AWKWARD.includes(id) ? years : [years[index % years.length] ?? 2_011];
      for (const year of seen) {
        const from = dayNumber(year, 1, 1);
        for (let day = from; day < from + 366; day++) {
          const instant = epochMs(day * MS_PER_DAY + 7 * MS_PER_HOUR);
          const shown = format
            .format(instant)
            .replace(", ", "T")
            .replace(/^(\d+)/, (text) => text.padStart(4, "0"));
          const found = isoWall(wallAt(place, instant));
          if (found !== shown) differing.push({ id, instant, found, shown });
        }
      }
    });
    expect(differing.slice(0, 3)).toEqual([]);
  });
});
