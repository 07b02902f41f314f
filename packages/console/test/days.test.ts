import { civilDay, dayNumber, daysInMonth, isoDay, weekday } from "@orisma/core/internal";
import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import { dayByKey, monthsOn, placeInWeek, weekFrom } from "../src/listing/editors/days.js";

const SEED = 90_511;
const LEAST = dayNumber(1, 1, 1);
const MAX = dayNumber(9_999, 12, 31);
const day = fc.oneof(
  fc.integer({ min: LEAST, max: MAX }),
  fc.integer({ min: dayNumber(2020, 1, 1), max: dayNumber(2030, 1, 1) }),
  fc.constantFrom(LEAST, MAX),
);
const dayOf = (text: string) => Date.parse(`${text}T00:00:00Z`) / 86_400_000;
const byKey = (key: string, text: string, isRightToLeft = false) => {
  const found = dayByKey(key, dayOf(text), isRightToLeft);
  return found === null ? null : isoDay(found);
};

describe("the days of a calendar", () => {
  test.each([
    ["PageDown", "2025-01-31", "2025-02-28"],
    ["PageUp", "2025-03-31", "2025-02-28"],
    ["PageUp", "2024-03-31", "2024-02-29"],
    ["PageDown", "2025-12-15", "2026-01-15"],
    ["PageUp", "2025-01-15", "2024-12-15"],
    ["ArrowUp", "2025-03-03", "2025-02-24"],
    ["ArrowRight", "2025-02-28", "2025-03-01"],
    ["Home", "2025-02-14", "2025-02-01"],
    ["End", "2024-02-14", "2024-02-29"],
    ["PageDown", "9999-12-15", "9999-12-31"],
    ["PageUp", "0001-01-15", "0001-01-01"],
    ["ArrowDown", "9999-12-30", "9999-12-31"],
    ["a", "2025-02-28", null],
  ])("%s leads from %s to %s", (key, from, to) => {
    expect(byKey(key, from)).toBe(to);
  });

  test("go the other way round where writing does", () => {
    expect(byKey("ArrowRight", "2025-03-01", true)).toBe("2025-02-28");
    expect(byKey("ArrowLeft", "2025-02-28", true)).toBe("2025-03-01");
    expect(byKey("ArrowDown", "2025-02-21", true)).toBe("2025-02-28");
  });

  test("some months on lie in that month, and lead back where it has the day", () => {
    fc.assert(
      fc.property(day, fc.integer({ min: -30, max: 30 }), (from, months) => {
        const to = monthsOn(from, months);
        const [a, b] = [civilDay(from), civilDay(to)];
        fc.pre(to !== LEAST && to !== MAX);
        expect(b.year * 12 + b.month - (a.year * 12 + a.month)).toBe(months);
        expect(b.day).toBe(Math.min(a.day, daysInMonth(b.year, b.month)));
        if (a.day === b.day) expect(monthsOn(to, -months)).toBe(from);
      }),
      { seed: SEED, numRuns: 1_000 },
    );
  });

  test("never leave the days that can be written", () => {
    const keys = ["ArrowLeft", "ArrowRight", "ArrowUp", "ArrowDown", "PageUp", "PageDown"];
    fc.assert(
      fc.property(day, fc.constantFrom(...keys), fc.boolean(), (from, key, isRightToLeft) => {
        const to = dayByKey(key, from, isRightToLeft) ?? NaN;
        expect(to >= LEAST && to <= MAX).toBe(true);
      }),
      { seed: SEED, numRuns: 1_000 },
    );
  });

  test("stand under the name of their weekday, with whichever the week begins", () => {
    expect(weekFrom(1).join(" ")).toBe("Mo Tu We Th Fr Sa Su");
    expect(weekFrom(7).join(" ")).toBe("Su Mo Tu We Th Fr Sa");
    fc.assert(
      fc.property(day, fc.integer({ min: 1, max: 7 }), (of, weekStart) => {
        expect(weekFrom(weekStart)[placeInWeek(of, weekStart)]).toBe(weekFrom(1)[weekday(of) - 1]);
      }),
      { seed: SEED, numRuns: 500 },
    );
  });
});
