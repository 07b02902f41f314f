import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { isoWall } from "../calendar/index.js";
import { readIsoDate } from "./iso.js";

function covers(text: string) {
  const read = readIsoDate(text);
  if (!read.ok) return read.faults.map(({ code }) => code);
  const { start, end, precision, canonical } = read.value;
  return [precision, isoWall(start), isoWall(end), canonical];
}

describe("readIsoDate", () => {
  test.each([
    ["2024", "year", "2024-01-01T00:00:00", "2025-01-01T00:00:00", "2024"],
    ["2024-Q1", "quarter", "2024-01-01T00:00:00", "2024-04-01T00:00:00", "2024-Q1"],
    ["2024-q4", "quarter", "2024-10-01T00:00:00", "2025-01-01T00:00:00", "2024-Q4"],
    ["2024-02", "month", "2024-02-01T00:00:00", "2024-03-01T00:00:00", "2024-02"],
    ["2024-W09", "week", "2024-02-26T00:00:00", "2024-03-04T00:00:00", "2024-W09"],
    ["2026-W53", "week", "2026-12-28T00:00:00", "2027-01-04T00:00:00", "2026-W53"],
    ["2024-W09-2", "day", "2024-02-27T00:00:00", "2024-02-28T00:00:00", "2024-02-27"],
    ["2024-065", "day", "2024-03-05T00:00:00", "2024-03-06T00:00:00", "2024-03-05"],
    ["2024-02-29", "day", "2024-02-29T00:00:00", "2024-03-01T00:00:00", "2024-02-29"],
    ["9999-12-31", "day", "9999-12-31T00:00:00", "10000-01-01T00:00:00", "9999-12-31"],
    ["2024-03-05T14", "hour", "2024-03-05T14:00:00", "2024-03-05T15:00:00", "2024-03-05T14"],
    [
      "2024-03-05t14:30",
      "minute",
      "2024-03-05T14:30:00",
      "2024-03-05T14:31:00",
      "2024-03-05T14:30",
    ],
    [
      "2024-03-05T23:59:59",
      "second",
      "2024-03-05T23:59:59",
      "2024-03-06T00:00:00",
      "2024-03-05T23:59:59",
    ],
    [
      "2024-03-05T14:30:05,25",
      "millisecond",
      "2024-03-05T14:30:05.250",
      "2024-03-05T14:30:05.251",
      "2024-03-05T14:30:05.250",
    ],
    [
      "2024-03-05T14:30:05.000999Z",
      "millisecond",
      "2024-03-05T14:30:05",
      "2024-03-05T14:30:05.001",
      "2024-03-05T14:30:05.000Z",
    ],
    [
      "2024-03-05T14+0530",
      "hour",
      "2024-03-05T14:00:00",
      "2024-03-05T15:00:00",
      "2024-03-05T14+05:30",
    ],
  ])("%s is a %s", (text, ...expected) => {
    expect(covers(text)).toEqual(expected);
  });

  test.each([
    ["2025-13-01", "date.impossible"],
    ["2025-00-01", "date.impossible"],
    ["2025-02-29", "date.impossible"],
    ["2025-04-31", "date.impossible"],
    ["2025-366", "date.impossible"],
    ["2025-W53", "date.impossible"],
    ["2025-W01-8", "date.impossible"],
    ["2025-Q5", "date.impossible"],
    ["0000", "date.impossible"],
    ["2025-01-01T24:00", "date.impossible"],
    ["2025-01-01T10:60", "date.impossible"],
    ["2025-01-01T10:00:60", "date.impossible"],
    ["2025-01-01T10:00+24:00", "date.impossible"],
    ["2025-01-01Z", "date.offsetRefused"],
    ["2025-01+01:00", "date.offsetRefused"],
    ["2025-01T10:00", "date.form"],
    ["abc", "date.form"],
    ["", "date.form"],
    ["20250101", "date.form"],
    ["25-01-01", "date.form"],
    ["2025-1-1", "date.form"],
    ["03/04/2024", "date.ambiguous"],
    ["13/04/2024", "date.order"],
    ["04/13/2024", "date.order"],
    ["04.04.2024", "date.order"],
    ["31/02/2025", "date.impossible"],
    ["2025-01-31' OR '1'='1", "date.form"],
  ])("%s is refused with %s", (text, code) => {
    expect(covers(text)).toEqual([code]);
  });

  test("an ambiguous date is reported with both of its readings", () => {
    const read = readIsoDate("03/04/2024");
    expect(!read.ok && read.faults[0]?.facts).toEqual({
      text: "03/04/2024",
      dayFirst: "2024-04-03",
      monthFirst: "2024-03-04",
    });
  });

  test("an impossible date is reported with the reason", () => {
    const reason = (text: string) => {
      const read = readIsoDate(text);
      const facts = read.ok ? {} : read.faults[0]?.facts;
      return facts !== undefined && "reason" in facts ? facts.reason : null;
    };
    expect(reason("2025-02-29")).toBe("February 2025 has 28 days, not being a leap year");
    expect(reason("31/02/2025")).toBe("February 2025 has 28 days");
    expect(reason("2025-01-31T24:00")).toBe(
      "a day ends where the next begins: write 2025-02-01T00:00",
    );
  });

  test("the canonical spelling reads back as the same interval", () => {
    const anyDay = fc.integer({ min: Date.UTC(1, 0, 1) + 6e13, max: Date.UTC(9999, 11, 31) });
    const cut = fc.constantFrom(4, 7, 10, 13, 16, 19, 23, 24);
    fc.assert(
      fc.property(anyDay, cut, (ms, length) => {
        const written = readIsoDate(new Date(ms).toISOString().slice(0, length));
        if (!written.ok) throw new Error("a date of the runtime was refused");
        expect(readIsoDate(written.value.canonical)).toEqual(written);
      }),
    );
  });

  test("any text gives a date or a fault, in bounded time", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 40 }), (text) => {
        const read = readIsoDate(text);
        expect(read.ok || read.faults.length === 1).toBe(true);
      }),
    );
    for (const hostile of [
      "2".repeat(100_000),
      `2024-${"0".repeat(100_000)}`,
      "2024-01-01T".repeat(9_000),
    ]) {
      expect(readIsoDate(hostile).ok).toBe(false);
    }
  });
});
