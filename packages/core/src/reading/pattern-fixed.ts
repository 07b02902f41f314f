import {
  MS_PER_DAY,
  MS_PER_HOUR,
  MS_PER_MINUTE,
  MS_PER_SECOND,
  daysInMonth,
} from "../calendar/index.js";
import { parsePattern, type Field, type PatternPiece } from "./pattern-text.js";

/** The fields that are plain numbers, with the width in which they are. */
const WIDTHS: Partial<Record<Field, number>> = {
  year: 4,
  month: 2,
  day: 2,
  hour: 2,
  minute: 2,
  second: 2,
  fraction: 3,
};

/** Reads a text of a fixed form; see {@link fixedReader}. */
export type FixedReader = (text: string) => number | null;

/** The parts of a date that a text of fixed form has, the longest first. */
export const FIXED_FIELDS = [
  "year",
  "month",
  "day",
  "hour",
  "minute",
  "second",
  "fraction",
] as const satisfies readonly Field[];
export type FixedField = (typeof FIXED_FIELDS)[number];

/** The form of a pattern of plain numbers of fixed width. */
export interface FixedForm {
  /** The characters of such a text in order; null where there is a digit. */
  readonly characters: readonly (string | null)[];
  /** Where each of its numbers begins, counted from 0, and how many digits it has. */
  readonly places: ReadonlyMap<FixedField, { readonly at: number; readonly width: number }>;
  /** How the UTC offset behind them is written; without one where it is omitted. */
  readonly offset?: OffsetForm;
}

/** How a UTC offset in hours and minutes is written. */
export interface OffsetForm {
  readonly hasColon: boolean;
  /** Whether none is `Z`, and not `+00:00`. */
  readonly isZ: boolean;
}

/**
 * The form of a pattern's text; null where its strings differ in form by more than an offset at their end. Never
 * throws.
 */
export function fixedFormOf(pattern: string): FixedForm | null {
  const pieces = parsePattern(pattern, { hasPivot: false, isWrittenOnly: false });
  if (typeof pieces === "string") return null;
  const last = pieces.at(-1);
  if (last?.field !== "offset") return fixedForm(pieces);
  const form = fixedForm(pieces.slice(0, -1));
  // With one letter the minutes of an offset are not always written.
  if (form === null || last.width === 1) return null;
  return { ...form, offset: { hasColon: last.width === 3, isZ: last.isZeroInDigits !== true } };
}

function fixedForm(pieces: readonly PatternPiece[]): FixedForm | null {
  const characters: (string | null)[] = [];
  const places = new Map<FixedField, { readonly at: number; readonly width: number }>();
  for (const { field, width, literal } of pieces) {
    if (field === undefined) {
      characters.push(...literal.split(""));
      continue;
    }
    if (WIDTHS[field] !== width) return null;
    places.set(field as FixedField, { at: characters.length, width });
    for (let digits = 0; digits < width; digits++) characters.push(null);
  }
  const isDay = (["year", "month", "day"] as const).every((field) => places.has(field));
  return isDay ? { characters, places } : null;
}

/**
 * A reader for patterns of plain numbers of fixed width, such as `dd/MM/yyyy HH:mm`: characters are
 * looked at by place, which is several times faster than an expression. It gives milliseconds
 * on the wall clock, NaN for a text of this form that names no day or time, and null for one of
 * another form. There is no such reader, null, where the pattern is not of the kind.
 */
export function fixedReader(pieces: readonly PatternPiece[]): FixedReader | null {
  const form = fixedForm(pieces);
  if (form === null) return null;
  const characters = form.characters.flatMap((character, at) =>
    character === null ? [] : [{ at, code: character.charCodeAt(0) }],
  );
  const { length } = form.characters;
  const placeOf = (field: FixedField) => form.places.get(field)?.at ?? -1;
  const [yearAt, monthAt, dayAt] = [placeOf("year"), placeOf("month"), placeOf("day")];
  const [hourAt, minuteAt] = [placeOf("hour"), placeOf("minute")];
  const [secondAt, fractionAt] = [placeOf("second"), placeOf("fraction")];

  return (text) => {
    if (text.length !== length) return null;
    for (const { at, code } of characters) if (text.charCodeAt(at) !== code) return null;
    const year = twoDigits(text, yearAt) * 100 + twoDigits(text, yearAt + 2);
    const month = twoDigits(text, monthAt);
    const day = twoDigits(text, dayAt);
    const hour = hourAt < 0 ? 0 : twoDigits(text, hourAt);
    const minute = minuteAt < 0 ? 0 : twoDigits(text, minuteAt);
    const second = secondAt < 0 ? 0 : twoDigits(text, secondAt);
    const fraction =
      fractionAt < 0 ? 0 : twoDigits(text, fractionAt) * 10 + digit(text, fractionAt + 2);
    // Anything but a digit makes its number NaN, and the sum too.
    if (Number.isNaN(year + month + day + hour + minute + second + fraction)) return null;
    const isDay =
      year >= 1 &&
      month >= 1 &&
      month <= 12 &&
      day >= 1 &&
      (day <= 28 || day <= daysInMonth(year, month));
    const isTime = hour <= 23 && minute <= 59 && second <= 59;
    if (!isDay || !isTime) return NaN;
    const time = hour * MS_PER_HOUR + minute * MS_PER_MINUTE + second * MS_PER_SECOND + fraction;
    return civilDayNumber(year, month, day) * MS_PER_DAY + time;
  };
}

function twoDigits(text: string, at: number): number {
  return digit(text, at) * 10 + digit(text, at + 1);
}

function digit(text: string, at: number): number {
  const value = text.charCodeAt(at) - 48;
  return value >= 0 && value <= 9 ? value : NaN;
}

/** The day number of a day that exists, by arithmetic alone: years begin in March. */
function civilDayNumber(year: number, month: number, day: number): number {
  const shifted = month > 2 ? year : year - 1;
  const dayOfYear = ((153 * (month > 2 ? month - 3 : month + 9) + 2) / 5) | 0;
  const leaps = ((shifted / 4) | 0) - ((shifted / 100) | 0) + ((shifted / 400) | 0);
  return shifted * 365 + leaps + dayOfYear + day - DAYS_BEFORE_1970;
}

/** Days from 1 March of the year 0 to 1970-01-01, and one, since days of a month begin at 1. */
const DAYS_BEFORE_1970 = 719_469;
