import { describe, expect, test } from "@jest/globals";
import fc from "fast-check";
import {
  civilDay,
  dayNumber,
  daysInMonth,
  daysInYear,
  firstMonday,
  isCivilDay,
  isLeapYear,
  weekday,
  weeksInYear,
} from "./days.js";

const DAYS = fc.integer({ min: dayNumber(1, 1, 1), max: dayNumber(9999, 12, 31) });

describe("days", () => {
  test("count from 1970-01-01, and reach the years 1 and 9999", () => {
    expect(dayNumber(1970, 1, 1)).toBe(0);
    expect(dayNumber(2024, 2, 29)).toBe(19_782);
    expect(civilDay(dayNumber(1, 1, 1))).toEqual({ year: 1, month: 1, day: 1 });
    expect(civilDay(dayNumber(9999, 12, 31))).toEqual({ year: 9999, month: 12, day: 31 });
  });

  test("a day number and its civil day are each other's reverse", () => {
    fc.assert(
      fc.property(DAYS, (number) => {
        const { year, month, day } = civilDay(number);
        expect(isCivilDay(year, month, day)).toBe(true);
        expect(dayNumber(year, month, day)).toBe(number);
      }),
    );
  });

  test("leap years are those of the Gregorian calendar", () => {
    expect([1900, 2000, 2023, 2024, 2100].map(isLeapYear)).toEqual([
      false,
      true,
      false,
      true,
      false,
    ]);
    expect(daysInYear(2024)).toBe(366);
    expect(daysInMonth(2023, 2)).toBe(28);
    expect(daysInMonth(2024, 2)).toBe(29);
    expect(isCivilDay(2023, 2, 29)).toBe(false);
  });

  test("months are as long as the step to the next one", () => {
    for (let month = 1; month <= 12; month++) {
      expect(dayNumber(2023, month + 1, 1) - dayNumber(2023, month, 1)).toBe(
        daysInMonth(2023, month),
      );
    }
  });

  test("weeks begin on Monday, and week 1 holds 4 January", () => {
    expect(weekday(dayNumber(2024, 3, 5))).toBe(2);
    expect(weekday(dayNumber(1969, 12, 28))).toBe(7);
    expect(civilDay(firstMonday(2026))).toEqual({ year: 2025, month: 12, day: 29 });
    expect([2024, 2025, 2026].map(weeksInYear)).toEqual([52, 52, 53]);
  });
});
