import { describe, expect, test } from "@jest/globals";
import { findZone, isoInstant, isoWall, type Zone } from "../calendar/index.js";
import { readIsoDate, type WrittenDate } from "../reading/index.js";
import { readGivenDate } from "./input.js";
import { isReversed } from "./pair.js";
import { dateInWords, endInWords, startInWords } from "./sentence.js";
import { resolveSpan } from "./span.js";

function zone(id: string): Zone {
  const found = findZone(id);
  if (!found.ok) throw new Error(`no zone ${id}`);
  return found.value;
}

function written(text: string): WrittenDate {
  const read = readIsoDate(text);
  if (!read.ok) throw new Error(`${text} is no date`);
  return read.value;
}

function span(text: string, id = "Europe/London") {
  return resolveSpan(written(text), zone(id)).span;
}

describe("resolveSpan", () => {
  test("a day has both faces of its edges, in summer time too", () => {
    const { start, end } = span("2025-07-01");
    expect([isoWall(start.wall), isoInstant(start.instant)]).toEqual([
      "2025-07-01T00:00:00",
      "2025-06-30T23:00:00Z",
    ]);
    expect([isoWall(end.wall), isoInstant(end.instant)]).toEqual([
      "2025-07-02T00:00:00",
      "2025-07-01T23:00:00Z",
    ]);
  });

  test("days of a clock change have 23 and 25 hours", () => {
    const hours = (text: string) => (span(text).end.instant - span(text).start.instant) / 3_600_000;
    expect([hours("2026-03-29"), hours("2026-03-30"), hours("2026-10-25")]).toEqual([23, 24, 25]);
  });

  test("a skipped day covers no instant, though it has a wall-clock face", () => {
    const { start, end } = span("2011-12-30", "Pacific/Apia");
    expect(start.instant).toBe(end.instant);
    expect(end.wall - start.wall).toBe(86_400_000);
  });

  test("an edge in a repeated hour widens, in a skipped one it is the change; both are told", () => {
    const repeated = resolveSpan(written("2026-10-25T01:30"), zone("Europe/London"));
    expect([
      isoInstant(repeated.span.start.instant),
      isoInstant(repeated.span.end.instant),
    ]).toEqual(["2026-10-25T00:30:00Z", "2026-10-25T01:31:00Z"]);
    expect(repeated.notices.map(({ code }) => code)).toEqual(["edge.repeated", "edge.repeated"]);
    const skipped = resolveSpan(written("2026-03-29T01:30"), zone("Europe/London"));
    expect(isoInstant(skipped.span.start.instant)).toBe("2026-03-29T01:00:00Z");
    expect(skipped.notices.map(({ code }) => code)).toEqual(["edge.skipped", "edge.skipped"]);
  });

  test("a written offset decides the instant; the wall clock is the zone's", () => {
    const { start } = span("2025-07-01T00:30+02:00");
    expect([isoWall(start.wall), isoInstant(start.instant)]).toEqual([
      "2025-06-30T23:30:00",
      "2025-06-30T22:30:00Z",
    ]);
  });
});

describe("readGivenDate", () => {
  test.each([
    "",
    "   ",
    "null",
    "NULL",
    "undefined",
    "0001-01-01",
    "0001-01-01T00:00:00",
    "0001-01-01T00:00:00.000Z",
  ])("“%s” is not given", (raw) => {
    expect(readGivenDate(raw, "date")).toEqual({ ok: true, value: { kind: "notGiven" } });
  });

  test("0001-01-02 is given, and two dots are an explicit open end", () => {
    expect(readGivenDate("0001-01-02", "date")).toMatchObject({ value: { kind: "written" } });
    expect(readGivenDate("..", "date")).toEqual({ ok: true, value: { kind: "open" } });
  });

  test("a date refuses a time of day and says which day to send; a moment takes it", () => {
    expect(readGivenDate("2025-02-28T00:00", "date")).toMatchObject({
      ok: false,
      faults: [{ code: "date.timeRefused", facts: { day: "2025-02-28" } }],
    });
    expect(readGivenDate("2025-02-28T00:00", "moment")).toMatchObject({
      value: { kind: "written" },
    });
  });
});

describe("isReversed", () => {
  test.each([
    ["2025-02-28", "2025-02-01", true],
    ["2025-03-06", "2025-03-05", true],
    ["2025-03", "2025-02", true],
    ["2025-02-01", "2025-02-28", false],
    ["2025-02-10", "2025-02-10", false],
    ["2025-02-10", "2025-02", false],
    ["2025-02", "2025-02-10", false],
  ])("from %s to %s: %s", (from, to, expected) => {
    expect(isReversed(span(from), span(to))).toBe(expected);
  });
});

describe("sentences", () => {
  test("say a date at its own precision", () => {
    const words = [
      "2025",
      "2025-Q2",
      "2025-02",
      "2025-W09",
      "2025-02-28",
      "2025-02-28T14:30",
      "2025-02-28T14:30:05Z",
    ];
    expect(words.map((text) => dateInWords(written(text)))).toEqual([
      "2025",
      "quarter 2 of 2025",
      "February 2025",
      "week 09 of 2025",
      "28 February 2025",
      "28 February 2025, 14:30",
      "28 February 2025, 14:30:05 UTC",
    ]);
  });

  test("say where a stretch begins and that its last day is in", () => {
    expect([startInWords(written("2025-02")), endInWords(written("2025-02"))]).toEqual([
      "1 February 2025",
      "the end of 28 February 2025",
    ]);
    expect(endInWords(written("2025-02-28T14"))).toBe("before 28 February 2025, 15:00");
  });
});
