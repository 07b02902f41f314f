import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { MS_PER_DAY, MS_PER_HOUR, dayNumber } from "../calendar/index.js";
import { readWindow } from "./read.js";
import { expand, holdsAt, type WallSpan } from "./recurring.js";

const RULES = [
  "BYMONTH=2",
  "BYMONTH=11..2",
  "BYMONTHDAY=29",
  "BYMONTHDAY=-1",
  "BYMONTHDAY=1,30..31",
  "BYYEARDAY=-1",
  "BYYEARDAY=366,1..3",
  "BYWEEKNO=53",
  "BYWEEKNO=-1,1",
  "BYDAY=FR..MO",
  "BYDAY=1MO",
  "BYDAY=-1FR,WE",
  "BYHOUR=0..23",
  "BYHOUR=22..3",
  "BYHOUR=0,12..13",
];
const rules = fc
  .uniqueArray(fc.constantFrom(...RULES), { minLength: 1, maxLength: 3, selector: nameOf })
  .map((parts) => parts.join(";"));

function nameOf(rule: string): string {
  return rule.split("=")[0] ?? "";
}

const calendar = fc.record({
  weekStart: fc.integer({ min: 1, max: 7 }),
  firstWeekDays: fc.integer({ min: 1, max: 7 }),
});

/** Some years, with ends at any hour. */
const within = fc
  .record({
    year: fc.oneof(fc.integer({ min: 1, max: 9_990 }), fc.integer({ min: 1_890, max: 2_110 })),
    hour: fc.integer({ min: 0, max: 9_000 }),
    hours: fc.integer({ min: 1, max: 12_000 }),
  })
  .map(({ year, hour, hours }): WallSpan => {
    const start = dayNumber(year, 1, 1) * MS_PER_DAY + hour * MS_PER_HOUR;
    return { start, end: start + hours * MS_PER_HOUR };
  });

function read(text: string) {
  const found = readWindow(`../..;${text}`);
  if (!found.ok) throw new Error(text);
  return found.value.window.alternatives[0].recurring;
}

describe("recurring parts laid out over an interval", () => {
  test("hold at just the hours at which they hold one by one", () => {
    fc.assert(
      fc.property(rules, within, calendar, (text, whole, weeks) => {
        const parts = read(text);
        const expected: { start: number; end: number }[] = [];
        for (let hour = whole.start; hour < whole.end; hour += MS_PER_HOUR) {
          if (!holdsAt(parts, hour, weeks)) continue;
          const last = expected.at(-1);
          if (last?.end === hour) last.end += MS_PER_HOUR;
          else expected.push({ start: hour, end: hour + MS_PER_HOUR });
        }
        expect(expand(parts, whole, weeks, Infinity)).toEqual({ spans: expected, isCut: false });
      }),
      { numRuns: 40 },
    );
  });

  test("are cut at the limit, and say so only where one is left out", () => {
    const start = dayNumber(2024, 1, 1) * MS_PER_DAY;
    const year = { start, end: start + 366 * MS_PER_DAY };
    const weeks = { weekStart: 1, firstWeekDays: 4 };
    const monthly = read("BYMONTHDAY=1");
    expect(expand(monthly, year, weeks, 12)).toMatchObject({ isCut: false });
    const cut = expand(monthly, year, weeks, 11);
    expect(cut.isCut).toBe(true);
    expect(cut.spans).toEqual(expand(monthly, year, weeks, 12).spans.slice(0, 11));
  });

  test("are one interval where they leave nothing out, however long it is", () => {
    const all = {
      start: dayNumber(1, 1, 1) * MS_PER_DAY,
      end: dayNumber(9_999, 1, 1) * MS_PER_DAY,
    };
    const weeks = { weekStart: 1, firstWeekDays: 4 };
    const parts = read("BYMONTH=1..12;BYDAY=MO..SU;BYHOUR=0..22,23");
    expect(expand(parts, all, weeks, 1)).toEqual({ spans: [all], isCut: false });
  });
});
