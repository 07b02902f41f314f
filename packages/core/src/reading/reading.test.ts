import { describe, expect, test } from "@jest/globals";
import { isoInstant, isoWall, epochMs, wallMs } from "../calendar/index.js";
import { compileReading, type Reading } from "./reading.js";

function cells(reading: Reading, ...stored: readonly (string | null)[]): readonly string[] {
  const compiled = compileReading(reading);
  if (!compiled.ok) throw new Error(compiled.faults.map(({ code }) => code).join());
  return stored.map((value) => {
    const cell = compiled.value.read(value);
    if (cell.state === "unreadable") return `unreadable ${cell.fault.code}`;
    if (cell.state === "blank") return "blank";
    return reading.kind === "instant" ? isoInstant(epochMs(cell.ms)) : isoWall(wallMs(cell.ms));
  });
}

const WORKS: Reading = {
  kind: "date",
  encoding: "text",
  patterns: ["dd/MM/yyyy"],
  blanks: ["N/A", "tbc"],
  sentinels: ["1900-01-01"],
};

describe("compileReading", () => {
  test("tells dated, blank and unreadable apart", () => {
    expect(
      cells(
        WORKS,
        "05/03/2024",
        " 05/03/2024 ",
        null,
        "",
        "   ",
        "n/a",
        "TBC",
        "01/01/1900",
        "31/02/2024",
        "soon",
      ),
    ).toEqual([
      "2024-03-05T00:00:00",
      "2024-03-05T00:00:00",
      "blank",
      "blank",
      "blank",
      "blank",
      "blank",
      "blank",
      "unreadable date.impossible",
      "unreadable date.pattern",
    ]);
  });

  test("several patterns are tried in order", () => {
    const reading = { ...WORKS, patterns: ["dd/MM/yyyy", "yyyyMMdd"] };
    expect(cells(reading, "05/03/2024", "20240306", "2024-03-07")).toEqual([
      "2024-03-05T00:00:00",
      "2024-03-06T00:00:00",
      "unreadable date.pattern",
    ]);
  });

  test("without a pattern ISO 8601 is read, at the precision of a day for days", () => {
    const reading: Reading = { kind: "date", encoding: "text" };
    expect(
      cells(reading, "2024-03-05", "2024-065", "2024-03", "2024-03-05T10:00", "05/03/2024"),
    ).toEqual([
      "2024-03-05T00:00:00",
      "2024-03-05T00:00:00",
      "unreadable date.form",
      "unreadable date.timeRefused",
      "unreadable date.ambiguous",
    ]);
  });

  test("a wall-clock column keeps the time of day and refuses an offset", () => {
    const reading: Reading = { kind: "local", encoding: "text" };
    expect(cells(reading, "2024-03-05T10:00", "2024-03-05", "2024-03-05T10:00Z")).toEqual([
      "2024-03-05T10:00:00",
      "2024-03-05T00:00:00",
      "unreadable date.offsetRefused",
    ]);
  });

  test("an instant needs an offset or a zone, and a time that the zone has", () => {
    const bare: Reading = { kind: "instant", encoding: "text" };
    expect(cells(bare, "2024-07-05T10:00+01:00", "2024-07-05T10:00")).toEqual([
      "2024-07-05T09:00:00Z",
      "unreadable date.form",
    ]);
    const london = { ...bare, zone: "Europe/London" };
    expect(cells(london, "2024-07-05T10:00", "2026-03-29T01:30", "2026-10-25T01:30")).toEqual([
      "2024-07-05T09:00:00Z",
      "unreadable date.impossible",
      "2026-10-25T00:30:00Z",
    ]);
  });

  test("every fault of a reading is told at once", () => {
    const compiled = compileReading({
      kind: "date",
      encoding: "text",
      patterns: ["dd/MM", "qq"],
      zone: "Mars/Olympus",
      sentinels: ["never"],
    });
    expect(!compiled.ok && compiled.faults.map(({ code }) => code)).toEqual([
      "reading.pattern",
      "reading.pattern",
      "zone.unknown",
      "date.form",
    ]);
  });
});
