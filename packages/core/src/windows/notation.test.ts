import { describe, expect, test } from "@jest/globals";
import { answerWindow } from "./answer.js";
import fc from "fast-check";
import { epochMs, findZone, isoInstant, isoWall, type Zone, UTC } from "../calendar/index.js";
import { renderFault, renderNotice } from "../faults/index.js";
import { windowInWords } from "./describe.js";
import { nextChange } from "./next-change.js";
import { RECURRING_NAMES, UNITS, WEEKDAYS, type Window } from "./notation.js";
import { fromQueryString, readWindow } from "./read.js";
import { resolveWindow, type WindowContext } from "./resolve.js";
import { calendarSettings, type CalendarDeclaration } from "./settings.js";
import { windowText } from "./write.js";

function zone(id: string): Zone {
  const found = findZone(id);
  if (!found.ok) throw new Error(`no zone ${id}`);
  return found.value;
}

function read(text: string): Window {
  const found = readWindow(text);
  if (!found.ok) throw new Error(found.faults.map((each) => renderFault(each).message).join());
  return found.value.window;
}

/** Wednesday 15 May 2024, 14:30:05 in London. */
const ASKED = "2024-05-15T13:30:05Z";

function context(
  asOf = ASKED,
  id = "Europe/London",
  calendar: CalendarDeclaration = {},
): WindowContext {
  const settings = calendarSettings(calendar);
  if (!settings.ok) throw new Error("the calendar has a fault");
  return { asOf: epochMs(Date.parse(asOf)), zone: zone(id), calendar: settings.value };
}

/** `2024-05-15/2024-05-16` for each interval, the times omitted where they are midnight. */
function resolved(text: string, at: WindowContext = context()): string {
  const found = resolveWindow(read(text), at);
  if (!found.ok) return found.faults.map(({ code }) => code).join();
  const { intervals, recurring, notices } = found.value;
  const edge = (wall: string | undefined) => (wall ?? "..").replace("T00:00:00", "");
  const spans = intervals.map(({ start, end }) => {
    const [from, to] = [start, end].map((each) => (each === null ? undefined : isoWall(each.wall)));
    return `${edge(from)}/${edge(to)}`;
  });
  const matching = recurring.map(({ recurring: rules }) => rules.map(({ name }) => name).join());
  return [...spans, ...matching].join(" ") || notices.map(({ code }) => code).join();
}

describe("the notation of windows", () => {
  test.each([
    // Literals at every precision.
    ["2024", "2024-01-01/2025-01-01"],
    ["2024-02", "2024-02-01/2024-03-01"],
    ["2024-W09", "2024-02-26/2024-03-04"],
    ["2024-W09-2", "2024-02-27/2024-02-28"],
    ["2024-Q1", "2024-01-01/2024-04-01"],
    ["2024-03-05", "2024-03-05/2024-03-06"],
    ["2024-065", "2024-03-05/2024-03-06"],
    ["2024-03-05T14", "2024-03-05T14:00:00/2024-03-05T15:00:00"],
    ["2024-03-05T14:30", "2024-03-05T14:30:00/2024-03-05T14:31:00"],
    ["2024-03-05t14:30:05.250z", "2024-03-05T14:30:05.250/2024-03-05T14:30:05.251"],
    ["2024-07-05T14:30+02:00", "2024-07-05T13:30:00/2024-07-05T13:31:00"],
    // Words and units.
    ["today", "2024-05-15/2024-05-16"],
    ["yesterday", "2024-05-14/2024-05-15"],
    ["TOMORROW", "2024-05-16/2024-05-17"],
    ["now", "window.noLength"],
    ["minute", "2024-05-15T14:30:00/2024-05-15T14:31:00"],
    ["hour-1", "2024-05-15T13:00:00/2024-05-15T14:00:00"],
    ["day-7", "2024-05-08/2024-05-09"],
    ["week", "2024-05-13/2024-05-20"],
    ["month-1", "2024-04-01/2024-05-01"],
    ["month-5", "2023-12-01/2024-01-01"],
    ["quarter+2", "2024-10-01/2025-01-01"],
    ["year", "2024-01-01/2025-01-01"],
    ["fiscalyear", "2024-01-01/2025-01-01"],
    ["workday", "2024-05-15/2024-05-16"],
    ["workday-5", "2024-05-08/2024-05-09"],
    ["workday+3", "2024-05-20/2024-05-21"],
    // A day of a unit.
    ["month.15", "2024-05-15/2024-05-16"],
    ["month-1.-1", "2024-04-30/2024-05-01"],
    ["week.1", "2024-05-13/2024-05-14"],
    ["year.60", "2024-02-29/2024-03-01"],
    ["month-1.31", "window.lacksDay"],
    // Shifts: the start moves, the length stays one unit of the part.
    ["2024-01-31+P1M", "2024-02-29/2024-03-01"],
    ["2024-01+P1D", "2024-01-02/2024-02-02"],
    ["today+P1M", "2024-06-15/2024-06-16"],
    ["today-P1Y+P1D", "2023-05-16/2023-05-17"],
    ["now-PT6H/now", "2024-05-15T08:30:05/2024-05-15T14:30:05"],
    // Lengths and ends.
    ["P6W/now", "2024-04-03T14:30:05/2024-05-15T14:30:05"],
    ["P1M/today", "2024-04-16/2024-05-16"],
    ["2024-03-01/P10D", "2024-03-01/2024-03-11"],
    ["today/P2W", "2024-05-15/2024-05-29"],
    ["../now", "../2024-05-15T14:30:05"],
    ["today/..", "2024-05-15/.."],
    ["../..", "../.."],
    ["month-1/now", "2024-04-01/2024-05-15T14:30:05"],
    ["2019-08/2020-01", "2019-08-01/2020-02-01"],
    ["2024-03-10/2024-03", "2024-03-10/2024-04-01"],
    // Reversed.
    ["2024-02-28/2024-02-01", "2024-02-01/2024-02-29"],
    ["month.20/now", "window.notBegun"],
    // Unions merge.
    ["2024-01|2024-02", "2024-01-01/2024-03-01"],
    ["2024-03|2024-01", "2024-01-01/2024-02-01 2024-03-01/2024-04-01"],
    ["2024-01-10/2024-02-10|2024-02", "2024-01-10/2024-03-01"],
    // Recurring parts.
    ["2023/2024;BYMONTH=4..6", "2023-04-01/2023-07-01 2024-04-01/2024-07-01"],
    [
      "2024-01/2024-03;BYMONTHDAY=-1",
      "2024-01-31/2024-02-01 2024-02-29/2024-03-01 2024-03-31/2024-04-01",
    ],
    [
      "2024-01/2024-02;BYDAY=1MO,-1FR",
      "2024-01-01/2024-01-02 2024-01-26/2024-01-27 2024-02-05/2024-02-06 2024-02-23/2024-02-24",
    ],
    [
      "2024-01-01/P2W;BYDAY=FR..MO",
      "2024-01-01/2024-01-02 2024-01-05/2024-01-09 2024-01-12/2024-01-15",
    ],
    ["2024;BYMONTH=12..1", "2024-01-01/2024-02-01 2024-12-01/2025-01-01"],
    ["2023/2024;BYYEARDAY=366", "2024-12-31/2025-01-01"],
    ["2020;BYWEEKNO=53", "2020-12-28/2021-01-01"],
    [
      "2024-05-15;BYHOUR=9..11,17",
      "2024-05-15T09:00:00/2024-05-15T12:00:00 2024-05-15T17:00:00/2024-05-15T18:00:00",
    ],
    ["2023;BYMONTH=2;BYMONTHDAY=29", "window.noMatch"],
    ["../..;BYMONTH=2;BYMONTHDAY=30", "window.noMatch"],
    ["../..;bymonthday=3", "BYMONTHDAY"],
    [
      "2024-02/2024-04;BYMONTHDAY=28..31",
      "2024-02-28/2024-03-01 2024-03-28/2024-04-01 2024-04-28/2024-05-01",
    ],
    // Too far.
    ["P9999999Y/now", "window.tooFar"],
    ["year-3000", "window.tooFar"],
    ["9999-12-31+P1D", "window.tooFar"],
    ["9999", "9999-01-01/+010000-01-01"],
  ])("%s covers %s", (text, expected) => {
    expect(resolved(text).replace("10000-01-01", "+010000-01-01")).toBe(expected);
  });

  test("goes by the calendar's settings: weeks, fiscal years, working days", () => {
    const calendar = context("2024-04-05T12:00:00Z", "Europe/London", {
      weekStart: "SU",
      fiscalYearStart: "04-06",
      holidays: ["2024-04-01", "2024-03-29"],
    });
    expect(resolved("week", calendar)).toBe("2024-03-31/2024-04-07");
    expect(resolved("fiscalyear", calendar)).toBe("2023-04-06/2024-04-06");
    expect(resolved("fiscalyear+1", calendar)).toBe("2024-04-06/2025-04-06");
    expect(resolved("fiscalquarter", calendar)).toBe("2024-01-06/2024-04-06");
    const sentence = (window: string, text = "04-06") => {
      const settings = calendarSettings({ fiscalYearStart: text });
      const found = answerWindow(window, {
        asOf: epochMs(Date.UTC(2024, 1, 10)),
        zone: UTC,
        ...(settings.ok ? { calendar: settings.value } : {}),
      });
      return found.ok ? found.value.sentence : "";
    };
    expect(sentence("fiscalyear")).toBe("6 April 2023 – 5 April 2024, fiscal year 2023/24, UTC");
    expect(sentence("fiscalquarter")).toBe(
      "6 January – 5 April 2024, quarter 4 of fiscal year 2023/24, UTC",
    );
    expect(sentence("fiscalquarter+1", "10-01")).toContain("quarter 3 of fiscal year 2023/24");
    expect(sentence("fiscalyear", "01-01")).toContain(", fiscal year 2024, UTC");
    expect(sentence("fiscalyear.1")).not.toContain("fiscal");
    expect(resolved("workday-4", calendar)).toBe("2024-03-28/2024-03-29");
    expect(resolved("workday", context("2024-04-06T12:00:00Z"))).toBe("window.dayOff");
    const wrong = calendarSettings({
      weekStart: "XX",
      firstWeekDays: 9,
      fiscalYearStart: "02-30",
      workdays: [],
      holidays: ["2024-02"],
    });
    expect(wrong.ok ? [] : wrong.faults.map(({ path }) => path).sort()).toEqual([
      "calendar.firstWeekDays",
      "calendar.fiscalYearStart",
      "calendar.holidays",
      "calendar.weekStart",
      "calendar.workdays",
    ]);
  });

  test.each([
    ["monht", 1, "“monht” is not a unit; did you mean month?"],
    ["2024-01/monht", 9, "“monht” is not a unit; did you mean month?"],
    ["2024-02-30", null, "February 2024 has 29 days"],
    ["month.32", 1, "the days of a month are 1 to 31"],
    ["day.1", 1, "only week, month"],
    ["2024-03-01/05", 12, "both ends are written in full, such as 2024-03-01/2024-03-05"],
    ["P1D/P2D", 1, "one of the two is a date, the other a length"],
    ["P1D", 1, "say where it ends or begins, such as P1D/now"],
    ["P6W/..", 1, "a length needs a date"],
    ["today-7", 1, "say day-7"],
    ["now-7", 1, "say now-P7D"],
    ["2024..2025", 1, "the ends are parted by a slash: 2024/2025"],
    ["2024-03-05T10:60", null, "minutes of an hour are 00 to 59"],
    ["2024-03-05T24:00", null, "write 2024-03-06T00:00"],
    ["2024-03-05+01:00", null, "without a time of day"],
    ["03/04/2024", 1, "more than two ends"],
    ["", 1, "says nothing"],
    ["2024||2025", 6, "says nothing"],
    ["2024/", 1, "write .. for an end that is open"],
    ["..", 1, "write ../.. for all dates"],
    ["today+P", 7, "a length is written"],
    ["today+P1D+P1D+P1D", 1, "moved more than 2 times"],
    ["2024;BYMONTH=13", 14, "BYMONTH is 1 to 12"],
    ["2024;BYMONT=1", 6, "did you mean BYMONTH?"],
    ["2024;BYMONTH", 6, "such as BYMONTH=1"],
    ["2024;BYDAY=XX", 12, "is not a weekday"],
    ["2024;BYDAY=6MO", 12, "up to 5 of a weekday"],
    ["2024;BYMONTHDAY=-1..1", 17, "from the beginning to the end"],
    ["2024;BYMONTH=1;BYMONTH=2", 1, "names BYMONTH twice"],
    ["month-999999", 1, "200000 units at most"],
  ])("%s is refused at %s: %s", (text, at, message) => {
    const found = readWindow(text);
    if (found.ok) throw new Error("it was read");
    const [fault] = found.faults;
    expect(found.faults).toHaveLength(1);
    const rendered = fault === undefined ? "" : renderFault(fault).message;
    expect(rendered).toContain(message);
    if (at !== null) expect(rendered).toMatch(new RegExp(`^at ${at}:`));
  });

  test("drops white space and reads odd dashes, each with a notice", () => {
    const found = readWindow(" 2024\u201301 / 2024\u201302 ", "period");
    expect(found.ok ? found.value.notices.map((each) => renderNotice(each).message) : []).toEqual([
      "dashes in the value of “period” were read as hyphens",
      "white space around the value of “period” was removed",
    ]);
    expect(found.ok ? windowText(found.value.window) : "").toBe("2024-01/2024-02");
  });

  test.each([
    ["today P1M", "today+P1M"],
    ["2024-01-31 P1M/..", "2024-01-31+P1M/.."],
    ["month 1", "month+1"],
    ["month 1.2/quarter 2", "month+1.2/quarter+2"],
    ["2024-03-05 14:30", "2024-03-05T14:30"],
    ["2024-03-05T14:30 01:00", "2024-03-05T14:30+01:00"],
    ["2024-03-05 14:30 01:00/now", "2024-03-05T14:30+01:00/now"],
    ["2024-01 / 2024-02", "2024-01 / 2024-02"],
  ])("in a query string %s is %s", (sent, meant) => {
    expect(fromQueryString(sent)).toBe(meant);
  });

  test("any text at all gives a window or a fault, in bounded time", () => {
    const pieces = [
      ...UNITS,
      ...RECURRING_NAMES,
      ...WEEKDAYS,
      "now",
      "today",
      "/",
      "|",
      ";",
      "=",
      "..",
      "+",
      "-",
      "P",
      "T",
      "1",
      "99",
      "2024",
      ".",
      ",",
      " ",
      ":",
      "Z",
      "\u2212",
      "😀",
      "\u0000",
    ];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...pieces), { maxLength: 40 }), (parts) => {
        const found = readWindow(parts.join(""));
        if (found.ok) resolveWindow(found.value.window, context());
        else expect(found.faults.map(renderFault)).toHaveLength(1);
      }),
      { numRuns: 3_000 },
    );
    for (const long of ["9".repeat(100_000), "|".repeat(100_000), "today+P1D".repeat(20_000)]) {
      expect(readWindow(long)).toMatchObject({ ok: false, faults: [{ code: "window.tooLong" }] });
    }
    expect(readWindow("2024|".repeat(300) + "2024")).toMatchObject({ ok: true });
  });
});

describe("the canonical text of a window", () => {
  const shift = fc.constantFrom("", "+P1M", "-P2W", "+P1Y2M3DT4H5M6.5S", "-PT30M");
  const base = fc.oneof(
    fc.constantFrom(
      "2024",
      "2024-q1",
      "2024-W09-2",
      "2024-03-05T14:30:05.25+02:00",
      "now",
      "today",
    ),
    fc
      .tuple(fc.constantFrom(...UNITS), fc.integer({ min: -500, max: 500 }))
      .map(([unit, count]) => unit + (count === 0 ? "" : count < 0 ? String(count) : `+${count}`)),
    fc
      .tuple(fc.constantFrom("month", "year-1", "quarter+2"), fc.integer({ min: 1, max: 31 }))
      .map(([unit, day]) => `${unit}.${day % 2 === 0 ? "-" : ""}${day}`),
  );
  const part = fc.tuple(base, shift, shift).map((parts) => parts.join(""));
  const range = fc.oneof(
    part,
    fc.tuple(part, part).map(([a, b]) => `${a}/${b}`),
    part.map((each) => `../${each}`),
    part.map((each) => `P6W/${each}`),
    part.map((each) => `${each}/PT36H`),
  );
  const rule = fc.constantFrom(
    "",
    ";BYMONTH=4..6",
    ";byday=1MO,-1FR;BYHOUR=22..3",
    ";BYYEARDAY=-3..-1",
  );
  const text = fc
    .array(
      fc.tuple(range, rule).map((parts) => parts.join("")),
      { minLength: 1, maxLength: 3 },
    )
    .map((alternatives) => alternatives.join("|"));

  test("reads back as the same window", () => {
    fc.assert(
      fc.property(text, (written) => {
        const canonical = windowText(read(written));
        expect(windowText(read(canonical))).toBe(canonical);
        expect(resolved(canonical)).toBe(resolved(written));
      }),
      { numRuns: 150 },
    );
  });
});

describe("a window in a zone", () => {
  function instants(text: string, id: string, asOf = ASKED): readonly string[] {
    const found = resolveWindow(read(text), context(asOf, id));
    if (!found.ok) throw new Error("it has a fault");
    return found.value.intervals.flatMap(({ start, end }) =>
      [start, end].map((edge) => (edge === null ? ".." : isoInstant(edge.instant))),
    );
  }

  test.each([
    ["2024-03-31", "Europe/London", "2024-03-31T00:00:00Z", "2024-03-31T23:00:00Z"],
    ["2024-10-27", "Europe/London", "2024-10-26T23:00:00Z", "2024-10-28T00:00:00Z"],
    // Midnight was omitted, or shown twice.
    ["2018-11-04", "America/Sao_Paulo", "2018-11-04T03:00:00Z", "2018-11-05T02:00:00Z"],
    ["2018-02-17", "America/Sao_Paulo", "2018-02-17T02:00:00Z", "2018-02-18T03:00:00Z"],
    ["2024-04-07", "Australia/Lord_Howe", "2024-04-06T13:00:00Z", "2024-04-07T13:30:00Z"],
    ["2024-01-01", "Asia/Kathmandu", "2023-12-31T18:15:00Z", "2024-01-01T18:15:00Z"],
    ["2011-12-29", "Pacific/Apia", "2011-12-29T10:00:00Z", "2011-12-30T10:00:00Z"],
    ["2011-12-31", "Pacific/Apia", "2011-12-30T10:00:00Z", "2011-12-31T10:00:00Z"],
    ["1992-09-27", "Europe/Lisbon", "1992-09-26T23:00:00Z", "1992-09-27T23:00:00Z"],
  ])("%s in %s is %s to %s", (text, id, start, end) => {
    expect(instants(text, id)).toEqual([start, end]);
  });

  test("a day that the clocks omitted has no moment, and is said to have none", () => {
    const found = resolveWindow(read("2011-12-30"), context(ASKED, "Pacific/Apia"));
    const [interval] = found.ok ? found.value.intervals : [];
    expect(interval?.start?.instant).toBe(interval?.end?.instant);
    expect(found.ok ? found.value.notices.map(({ code }) => code) : []).toEqual([
      "window.skippedDay",
    ]);
  });

  test("its sentence says the first day, the end of the last, and the zone", () => {
    const words = (text: string) => {
      const at = context();
      const found = resolveWindow(read(text), at);
      return found.ok ? windowInWords(read(text), found.value, at.zone) : "";
    };
    expect(words("2019-08/2020-01")).toBe("1 August 2019 – 31 January 2020, Europe/London");
    expect(words("today")).toBe("on 15 May 2024, Europe/London");
    expect(words("month/now")).toBe("from 1 May 2024, before 15 May 2024, 14:30:05, Europe/London");
    expect(words("../..;BYMONTH=4..6;BYDAY=1MO")).toBe(
      "in April to June of each year, on the 1st Monday of the month, Europe/London",
    );
    expect(words("year;BYMONTH=3..10;BYDAY=SA..SU")).toBe(
      "in March to October, on Saturdays and Sundays, 2024, Europe/London",
    );
    expect(words("2023/2026;BYDAY=MO")).toBe("on Mondays, 2023–2026, Europe/London");
    expect(words("../..;BYMONTHDAY=-1,3")).toContain("on the last day and 3rd of the month");
    expect(words("2024-01|2024-03|2024-05|2024-07")).toContain("; 1 more interval,");
  });

  test.each([
    ["2024", null],
    ["../..;BYMONTH=4", null],
    ["month/now", "2024-05-15T13:30:05Z"],
    ["today", "2024-05-15T23:00:00Z"],
    ["month-1", "2024-05-31T23:00:00Z"],
    ["hour", "2024-05-15T14:00:00Z"],
    // The first week that is not wholly in the year widens it.
    ["year|week", "2024-12-30T00:00:00Z"],
    ["workday-1", "2024-05-15T23:00:00Z"],
    ["2024-01/today", "2024-05-15T23:00:00Z"],
    ["fiscalyear", "2025-01-01T00:00:00Z"],
    ["month;BYDAY=MO", "2024-05-31T23:00:00Z"],
    ["day;BYDAY=SA", "2024-05-17T23:00:00Z"],
    ["hour;BYMONTHDAY=16", "2024-05-15T23:00:00Z"],
    ["0001/day;BYHOUR=1,3", "2024-05-15T23:00:00Z"],
    ["0001/day;BYDAY=SA", "2024-05-17T23:00:00Z"],
    ["2020/..;BYDAY=SA", null],
    // Further away than the 2,000 minutes that are looked at one by one.
    ["minute;BYMONTH=12", "2024-12-01T00:00:00Z"],
    ["minute;BYMONTH=2;BYMONTHDAY=29", "2028-02-29T00:00:00Z"],
    ["hour;BYYEARDAY=366", "2024-12-31T00:00:00Z"],
    ["2000/2030|minute", "2031-01-01T00:00:00Z"],
    ["minute;BYMONTH=2;BYMONTHDAY=30", null],
    ["2020/..|minute", null],
    ["2024|2026|minute", "2025-01-01T00:00:00Z"],
    ["workday;BYMONTHDAY=1", "2024-06-02T23:00:00Z"],
    ["workday;BYMONTH=12", "2024-11-30T00:00:00Z"],
    ["minute;BYDAY=MO", "2024-05-19T23:00:00Z"],
    ["year|month|week|day", "2024-12-30T00:00:00Z"],
    ["day+20/month", "2024-05-31T23:00:00Z"],
  ])("%s next changes at %s", (text, expected) => {
    const next = nextChange(read(text), context());
    expect(next === null ? null : isoInstant(next)).toBe(expected);
  });

  const inYears = (at: number, years: number) => at + years * 366 * 86_400_000;

  test("nothing changes before the next change, whatever the ranges and their recurring parts", () => {
    const windows = fc
      .tuple(
        fc.constantFrom(
          "day",
          "hour",
          "month-1/day",
          "2024-05/week",
          "workday",
          "day/P3D",
          "../day",
          "2024",
          "2023/2024-08",
          "week",
          "minute",
          "day+20/month",
        ),
        fc.constantFrom("", ";BYDAY=SA..MO", ";BYMONTHDAY=1,18", ";BYHOUR=3..8", ";BYWEEKNO=21"),
      )
      .map(([range, parts]) => `${range}${parts}`);
    const hour = fc.integer({ min: 0, max: 24 * 60 });
    fc.assert(
      fc.property(fc.array(windows, { minLength: 1, maxLength: 3 }), hour, (parts, hours) => {
        const window = read(parts.join("|"));
        const now = Date.UTC(2024, 3, 20) + hours * 3_600_000;
        const at = (asOf: number) => {
          const found = resolveWindow(window, { ...context(), asOf: epochMs(asOf) });
          return JSON.stringify(found.ok ? [found.value.intervals, found.value.recurring] : null);
        };
        const next = nextChange(window, { ...context(), asOf: epochMs(now) }) ?? inYears(now, 3);
        const before = at(now);
        for (const share of [0.1, 0.3, 0.5, 0.7, 0.9]) {
          const later = Math.floor(now + (next - now) * share);
          expect([parts, at(later)]).toEqual([parts, before]);
        }
        expect([parts, at(next - 1)]).toEqual([parts, before]);
      }),
      { numRuns: 60 },
    );
  });

  test("on a day off the working day changes when work begins again", () => {
    const saturday = context("2024-05-18T12:00:00Z");
    const next = nextChange(read("workday"), saturday);
    expect(next === null ? null : isoInstant(next)).toBe("2024-05-19T23:00:00Z");
  });
});
