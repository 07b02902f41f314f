import { MS_PER_DAY, wallMs, type WallMs } from "./time.js";

/** The years that can be written: four digits, and no year 0 (ISO 8601-1:2019, 4.2.1). */
export const FIRST_YEAR = 1;
export const LAST_YEAR = 9999;

/** A day of the proleptic Gregorian calendar. */
export interface CivilDay {
  readonly year: number;
  /** 1 to 12. */
  readonly month: number;
  /** 1 to 31. */
  readonly day: number;
}

/**
 * The number of a civil day, counted from 1970-01-01 as 0.
 *
 * Months and days beyond their range roll over (month 13 is January of the next year), which
 * is what finding the start of the next month needs; check with {@link isCivilDay} first
 * where a caller wrote the day.
 */
export function dayNumber(year: number, month: number, day: number): number {
  // Shifted by 400 years, a whole number of cycles, so that Date.UTC does not read the
  // years 0 to 99 as 1900 to 1999.
  return Date.UTC(year + 400, month - 1, day) / MS_PER_DAY - DAYS_PER_CYCLE;
}

const DAYS_PER_CYCLE = 146_097;

/** The first millisecond of the years that can be written, and the one behind the last: of UTC, or of a wall clock. */
export const FIRST_MS = dayNumber(FIRST_YEAR, 1, 1) * MS_PER_DAY;
export const END_MS = dayNumber(LAST_YEAR + 1, 1, 1) * MS_PER_DAY;

/**
 * The civil day of a day number, by arithmetic alone: years are taken to begin in March, so that
 * a leap day is the last of its year, and 400 of them are one cycle.
 */
export function civilDay(number: number): CivilDay {
  const fromMarch = number + DAYS_FROM_MARCH_0;
  const cycle = Math.floor(fromMarch / DAYS_PER_CYCLE);
  const ofCycle = fromMarch - cycle * DAYS_PER_CYCLE;
  const years = Math.floor(
    (ofCycle -
      Math.floor(ofCycle / 1_460) +
      Math.floor(ofCycle / 36_524) -
      Math.floor(ofCycle / 146_096)) /
      365,
  );
  const ofYear = ofCycle - (365 * years + Math.floor(years / 4) - Math.floor(years / 100));
  const months = Math.floor((5 * ofYear + 2) / 153);
  const month = months < 10 ? months + 3 : months - 9;
  return {
    year: years + cycle * 400 + (month <= 2 ? 1 : 0),
    month,
    day: ofYear - Math.floor((153 * months + 2) / 5) + 1,
  };
}

/** Days from 1 March of the year 0 to 1970-01-01. */
const DAYS_FROM_MARCH_0 = 719_468;

/** Whether a year has a 29 February. */
export function isLeapYear(year: number): boolean {
  return year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0);
}

/** The number of days of a month, 28 to 31. */
export function daysInMonth(year: number, month: number): number {
  if (month === 2) return isLeapYear(year) ? 29 : 28;
  return month === 4 || month === 6 || month === 9 || month === 11 ? 30 : 31;
}

/** The number of days of a year, 365 or 366. */
export function daysInYear(year: number): number {
  return isLeapYear(year) ? 366 : 365;
}

/** Whether year, month and day name a day that exists, in the years 1 to 9999. */
export function isCivilDay(year: number, month: number, day: number): boolean {
  return (
    year >= FIRST_YEAR &&
    year <= LAST_YEAR &&
    month >= 1 &&
    month <= 12 &&
    day >= 1 &&
    day <= daysInMonth(year, month)
  );
}

/** The weekday of a day number: 1 for Monday to 7 for Sunday (ISO 8601-1:2019, 4.2.3). */
export function weekday(number: number): number {
  return ((((number + 3) % 7) + 7) % 7) + 1;
}

/** The day number of the Monday on which week 1 of a year begins (ISO 8601-1:2019, 4.2.2). */
export function firstMonday(year: number): number {
  const fourth = dayNumber(year, 1, 4);
  return fourth - (weekday(fourth) - 1);
}

/** The number of ISO 8601 weeks of a year, 52 or 53. */
export function weeksInYear(year: number): number {
  return (firstMonday(year + 1) - firstMonday(year)) / 7;
}

/** The wall-clock time at which a day begins. */
export function dayStart(number: number): WallMs {
  return wallMs(number * MS_PER_DAY);
}

/** The number of the day in which a wall-clock time lies. */
export function dayOf(wall: WallMs): number {
  return Math.floor(wall / MS_PER_DAY);
}
