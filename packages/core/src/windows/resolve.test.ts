import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  MS_PER_DAY,
  dayNumber,
  epochMs,
  findZone,
  isoDay,
  isoWall,
  type Interval,
  type Zone,
} from "../calendar/index.js";
import { answerWindow, yearSpans, yearInWords, yearOfWindow } from "./answer.js";
import { WINDOW_FORMS } from "./forms.js";
import { periodBefore, type PeriodBefore } from "./before.js";
import { NAMED_WINDOWS, checkLadder, listWindows } from "./named.js";
import { UNITS } from "./notation.js";
import { readWindow } from "./read.js";
import { resolveWindow } from "./resolve.js";
import { ISO_CALENDAR } from "./settings.js";

const SEED = 1793;
/** Zones whose clocks have done odd things, besides every zone of the runtime. */
const AWKWARD = [
  "Europe/London",
  "Europe/Lisbon",
  "Europe/Dublin",
  "America/Sao_Paulo",
  "America/Havana",
  "America/Caracas",
  "America/St_Johns",
  "Pacific/Apia",
  "Pacific/Kiritimati",
  "Pacific/Chatham",
  "Australia/Lord_Howe",
  "Asia/Kathmandu",
  "Asia/Gaza",
  "Asia/Tehran",
  "Asia/Amman",
  "Africa/Casablanca",
  "Africa/Cairo",
  "Antarctica/Troll",
  "America/Godthab",
  "Asia/Pyongyang",
];

function zone(id: string): Zone {
  const found = findZone(id);
  if (!found.ok) throw new Error(`no zone ${id}`);
  return found.value;
}

function intervals(
  text: string,
  asOf: number,
  id = "UTC",
  calendar = ISO_CALENDAR,
): readonly Interval[] {
  const read = readWindow(text);
  if (!read.ok) throw new Error(`${text} was refused`);
  const found = resolveWindow(read.value.window, { asOf: epochMs(asOf), zone: zone(id), calendar });
  if (!found.ok) throw new Error(`${text} has a fault`);
  return found.value.intervals;
}

/** Numbers that look random and are the same in every run (mulberry32). */
function seeded(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), state | 1);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) % below;
  };
}

/** The date that the clocks of a zone show, by the runtime's own formatter. */
function shownDate(formats: Map<string, Intl.DateTimeFormat>, id: string, instant: number) {
  const format =
    formats.get(id) ?? new Intl.DateTimeFormat("en-CA", { timeZone: id, dateStyle: "short" });
  formats.set(id, format);
  return format.format(instant).split("-").map(Number);
}

/** The minute of the hour that the clocks of a zone show, by the runtime's own formatter. */
function shownMinute(formats: Map<string, Intl.DateTimeFormat>, id: string, instant: number) {
  const format =
    formats.get(id) ??
    new Intl.DateTimeFormat("en-GB", { timeZone: id, hour: "2-digit", minute: "2-digit" });
  formats.set(id, format);
  return Number(format.format(instant).split(":")[1]);
}

const FINANCIAL = { ...ISO_CALENDAR, fiscalYear: { month: 4, day: 6 } };

/** The first day of a unit around a date and of the next one, by the runtime's own calendar. */
function byRuntime(year: number, month: number, day: number, unit: string, by: number) {
  const start = (moved: number) => {
    switch (unit) {
      case "day":
        return Date.UTC(year, month - 1, day + moved);
      case "week": {
        const weekday = (new Date(Date.UTC(year, month - 1, day)).getUTCDay() + 6) % 7;
        return Date.UTC(year, month - 1, day - weekday + 7 * moved);
      }
      case "month":
        return Date.UTC(year, month - 1 + moved, 1);
      case "quarter":
        return Date.UTC(year, Math.floor((month - 1) / 3) * 3 + 3 * moved, 1);
      case "year":
        return Date.UTC(year + moved, 0, 1);
      // The fiscal year of these tests begins on 6 April.
      case "fiscalyear":
        return Date.UTC((month * 100 + day >= 406 ? year : year - 1) + moved, 3, 6);
      case "fiscalquarter": {
        const begun = day >= 6 ? month - 1 : month - 2;
        return Date.UTC(year, Math.floor(begun / 3) * 3 + 3 * moved, 6);
      }
      default:
        return workday(year, month, day, moved);
    }
  };
  // A working day is one day long, and the next one may be days away.
  return [start(by), unit === "workday" ? start(by) + MS_PER_DAY : start(by + 1)];
}

/** Monday to Friday, counted one by one from the day itself; NaN on a day off. */
function workday(year: number, month: number, day: number, by: number): number {
  const isOff = (ms: number) => [0, 6].includes(new Date(ms).getUTCDay());
  let found = Date.UTC(year, month - 1, day);
  if (by === 0) return isOff(found) ? NaN : found;
  for (let remaining = Math.abs(by); remaining > 0;) {
    found += Math.sign(by) * MS_PER_DAY;
    if (!isOff(found)) remaining--;
  }
  return found;
}

/** Hours and minutes, of elapsed time from the one that the clocks of a zone show. */
function byElapsed(asOf: number, minutes: number, unit: string, by: number) {
  const length = unit === "hour" ? 3_600_000 : 60_000;
  const into = (unit === "hour" ? minutes * 60_000 : 0) + (((asOf % 60_000) + 60_000) % 60_000);
  return [asOf - into + by * length, asOf - into + (by + 1) * length];
}

describe("resolving, held against the runtime's own calendar and formatter", () => {
  // The long way once; in processes of other zones it is enough to see that nothing differs.
  const isWhole = process.env.TZ === undefined;
  const samples = isWhole ? 200_000 : 10_000;

  test(`${samples} windows of every unit, 500 back to 500 on, seed ${SEED}`, () => {
    const below = seeded(SEED);
    const every = isWhole ? Intl.supportedValuesOf("timeZone") : AWKWARD.slice(0, 5);
    const units = UNITS;
    const minuteOf = new Map<string, Intl.DateTimeFormat>();
    const formats = new Map<string, Intl.DateTimeFormat>();
    const differing: unknown[] = [];
    for (let count = 0; count < samples; count++) {
      const unit = units[below(units.length)] ?? "day";
      const id = every[below(every.length)] ?? "UTC";
      const by = below(1_001) - 500;
      const asOf = Date.UTC(2023, 0, 1) + below(3 * 365 * 86_400) * 1_000 + below(1_000);
      const [year = 0, month = 0, day = 0] = shownDate(formats, id, asOf);
      const text = by === 0 ? unit : `${unit}${by < 0 ? "" : "+"}${by}`;
      const [found] = intervals(text, asOf, id, FINANCIAL);
      if (unit === "hour" || unit === "minute") {
        // Clocks off by seconds were in use before 1972 alone.
        const minutes = shownMinute(minuteOf, id, asOf);
        const expected = byElapsed(asOf, minutes, unit, by);
        const instants = [found?.start?.instant, found?.end?.instant];
        if (instants[0] !== expected[0] || instants[1] !== expected[1]) {
          differing.push({ text, id, asOf, instants, expected });
        }
        continue;
      }
      const walls = [found?.start?.wall ?? NaN, found?.end?.wall ?? NaN];
      const expected = byRuntime(year, month, day, unit, by);
      if (!Object.is(walls[0], expected[0]) || !Object.is(walls[1], expected[1])) {
        differing.push({ text, id, asOf, walls, expected });
      }
    }
    expect(differing.slice(0, 3)).toEqual([]);
  });

  test("neighbouring units tile the line in awkward zones, changes of the clock and all", () => {
    const units = ["day", "week", "month", "quarter", "year", "hour", "minute"] as const;
    fc.assert(
      fc.property(
        fc.constantFrom(...AWKWARD),
        fc.constantFrom(...units),
        fc.integer({ min: Date.UTC(1970, 0, 1), max: Date.UTC(2040, 0, 1) }),
        fc.integer({ min: -400, max: 400 }),
        (id, unit, asOf, by) => {
          const text = (count: number) =>
            unit + (count === 0 ? "" : count < 0 ? String(count) : `+${count}`);
          const [one] = intervals(text(by), asOf, id);
          const [next] = intervals(text(by + 1), asOf, id);
          expect([id, asOf, text(by), one?.end?.instant]).toEqual([
            id,
            asOf,
            text(by),
            next?.start?.instant,
          ]);
        },
      ),
      { numRuns: 500, seed: SEED },
    );
  });

  test("around every change of the clock, a day begins at its first moment and holds no other", () => {
    for (const id of process.env.TZ === undefined ? AWKWARD : AWKWARD.slice(0, 5)) {
      const place = zone(id);
      const dayAt = (instant: number) =>
        Math.floor((instant + place.offsetAt(epochMs(instant))) / MS_PER_DAY);
      for (let day = dayNumber(1970, 1, 1); day < dayNumber(2041, 1, 1); day++) {
        const [before, after] = [day, day + 1].map((each) =>
          place.offsetAt(epochMs(each * MS_PER_DAY)),
        );
        if (before === after) continue;
        for (const each of [day - 1, day, day + 1]) {
          const [found] = intervals(isoDay(each), 0, id);
          const [start, end] = [found?.start?.instant ?? NaN, found?.end?.instant ?? NaN];
          // A day that the clocks omitted has no moment.
          if (start === end) continue;
          const edges = [start - 1, start, end - 1, end].map((instant) => dayAt(instant) - each);
          expect([id, isoDay(each), edges[1]]).toEqual([id, isoDay(each), 0]);
          expect([id, isoDay(each), (edges[0] ?? 0) < 0, (edges[3] ?? 0) > 0]).toEqual([
            id,
            isoDay(each),
            true,
            true,
          ]);
        }
      }
    }
  });

  test("between A and B is from A and to B; a span holds its start and not its end", () => {
    const part = fc.constantFrom(
      "2024-02",
      "2024-W09-2",
      "today",
      "month-1",
      "year",
      "week+3",
      "2023",
    );
    fc.assert(
      fc.property(part, part, fc.integer({ min: 0, max: 2_000_000_000_000 }), (a, b, asOf) => {
        const [from] = intervals(`${a}/..`, asOf);
        const [to] = intervals(`../${b}`, asOf);
        const both = intervals(`${a}/${b}`, asOf);
        const [start, end] = [from?.start?.instant ?? 0, to?.end?.instant ?? 0];
        const [one] = both;
        // A pair in reverse order is reported otherwise.
        if (start < end) expect([one?.start?.instant, one?.end?.instant]).toEqual([start, end]);
        for (const { start: first, end: last } of both) {
          expect((first?.instant ?? 0) < (last?.instant ?? 0)).toBe(true);
        }
      }),
      { numRuns: 500, seed: SEED },
    );
  });

  test("every unit but a day off has a length, in every zone of the runtime", () => {
    for (const id of Intl.supportedValuesOf("timeZone")) {
      for (const unit of UNITS) {
        if (unit === "workday") continue;
        const [found] = intervals(unit, Date.UTC(2024, 4, 15, 12), id);
        expect([id, unit, (found?.end?.instant ?? 0) > (found?.start?.instant ?? 0)]).toEqual([
          id,
          unit,
          true,
        ]);
      }
    }
  });
});

const WEDNESDAY = { asOf: epochMs(Date.UTC(2024, 4, 15, 13, 30)), zone: zone("Europe/London") };

describe("named windows and ladders", () => {
  test("each has its dates on any day, and none has a date written into it", () => {
    const listed = listWindows(NAMED_WINDOWS, WEDNESDAY);
    const dates = new Map(
      (listed.ok ? listed.value : []).map(({ name, sentence }) => [name, sentence]),
    );
    expect(dates.size).toBe(NAMED_WINDOWS.length);
    expect(dates.get("seven-days-before-today")).toContain("8–14 May 2024");
    expect(dates.get("seven-days-with-today")).toContain("9–15 May 2024");
    expect(dates.get("coming-thirty-days")).toContain("16 May – 14 June 2024");
    expect(dates.get("overdue")).toContain("until 14 May 2024");
    expect(dates.get("five-working-days")).toContain("8–14 May 2024");
    expect(NAMED_WINDOWS.filter(({ window }) => /\d{4}/.test(window))).toEqual([]);
  });

  const YEAR = { from: dayNumber(2024, 1, 1), to: dayNumber(2025, 1, 1) };
  const rungs = (...windows: readonly string[]) =>
    windows.map((window, index) => ({ name: `rung ${index + 1}`, label: window, window }));

  test("a ladder that tiles on every day of a year has no fault", () => {
    const ladder = rungs("../day-31", "day-30/day-8", "day-7/yesterday", "today", "tomorrow/..");
    expect(checkLadder(ladder, YEAR, WEDNESDAY)).toEqual({ ok: true, value: [] });
  });

  test("a gap, an overlap and an empty rung are reported with the first day on which they are", () => {
    const gap = checkLadder(rungs("week-1", "day-1"), YEAR, WEDNESDAY);
    expect(gap.ok ? gap.value : []).toEqual([
      { day: "2024-01-01", kind: "overlap", between: ["rung 1", "rung 2"] },
      { day: "2024-01-03", kind: "gap", between: ["rung 1", "rung 2"] },
    ]);
    const empty = checkLadder(rungs("workday"), YEAR, WEDNESDAY);
    expect(empty.ok ? empty.value : []).toEqual([
      { day: "2024-01-06", kind: "empty", between: ["rung 1"] },
    ]);
  });
});

describe("the period before", () => {
  function before(text: string, by: PeriodBefore): string {
    const [interval] = intervals(text, WEDNESDAY.asOf, "Europe/London");
    if (interval === undefined) return "nothing";
    const found = periodBefore(interval, by, WEDNESDAY.zone);
    const edge = (each: Interval["start"] | undefined) =>
      each == null ? ".." : isoWall(each.wall);
    return found === null
      ? "none"
      : `${edge(found.start)}/${edge(found.end)}`.replaceAll("T00:00:00", "");
  }

  test.each<[string, PeriodBefore, string]>([
    ["month", "length", "2024-04-01/2024-05-01"],
    ["2024-03", "length", "2024-02-01/2024-03-01"],
    ["quarter", "length", "2024-01-01/2024-04-01"],
    ["2024-03-30/2024-04-02", "length", "2024-03-26/2024-03-30"],
    ["P6W/today", "length", "2024-02-22/2024-04-04"],
    ["now-PT2H/now", "length", "2024-05-15T10:30:00/2024-05-15T12:30:00"],
    ["2024-02-29", "year", "2023-02-28/2023-03-01"],
    ["2024-02", "year", "2023-02-01/2023-03-01"],
    ["2024-03", "month", "2024-02-01/2024-03-01"],
    ["2024-03-31", "month", "2024-02-29/2024-03-01"],
    ["2024-03-05/2024-03-10", "month", "2024-02-05/2024-02-11"],
    ["today/..", "length", "none"],
  ])("of %s by %s is %s", (text, by, expected) => {
    expect(before(text, by)).toBe(expected);
  });
});

describe("a year of a window", () => {
  test("reports for each day how it lies to the day before", () => {
    // 31 May to 3 June 2024.
    const since = (text: string) => {
      const found = yearOfWindow(text, 2024, { zone: zone("UTC") });
      const days = found.ok ? found.value.days : [];
      expect(days).toHaveLength(366);
      return days.slice(151, 155).map((each) => each.since);
    };
    expect(since("month")).toEqual(["same", "next", "same", "same"]);
    expect(since("day-7/today")).toEqual(["overlap", "overlap", "overlap", "overlap"]);
    expect(since("workday")).toEqual(["next", "empty", "same", "empty"]);
    expect(since("month.1|month.3")).toEqual(["apart", "apart", "apart", "apart"]);
    expect(since("month.1")).toEqual(["same", "gap", "same", "same"]);
  });

  test("has the days of the same edges together, and says how many lie how", () => {
    const found = yearOfWindow("month.31", 2024, { zone: zone("UTC") });
    if (!found.ok) throw new Error("it cannot be read");
    const intervals = yearSpans(found.value);
    expect(intervals.slice(1, 4).map(({ first, last, since }) => [first, last, since])).toEqual([
      ["2024-02-01", "2024-02-29", "empty"],
      ["2024-03-01", "2024-03-31", "empty"],
      ["2024-04-01", "2024-04-30", "empty"],
    ]);
    expect(intervals[1]?.intervals).toEqual([]);
    expect(yearInWords(found.value)).toBe(
      "366 days, each at noon; the bounds are those of the day before on 354, follow on 0, overlap on 0, leave a gap on 1; 149 empty",
    );
  });
});

describe("the forms of the notation", () => {
  test.each(WINDOW_FORMS.flatMap(({ examples }) => examples))(
    "%s can be read, and is written as it is returned",
    (text) => {
      const asOf = epochMs(Date.parse("2026-11-25T09:00:00Z"));
      const answer = answerWindow(text, { asOf, zone: zone("UTC") });
      if (!answer.ok) throw new Error(`${text} cannot be read`);
      expect(answer.value.canonical).toBe(text);
      expect(answer.value.intervals).not.toEqual([]);
    },
  );
});
