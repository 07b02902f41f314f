import type { Result } from "../faults/index.js";
import { namesOf } from "./names.js";
import { compilePattern, type DatePattern } from "./pattern.js";

/** Two digits of a year are only written here, and never read. */
const ANY_CENTURY = 1_900;

/**
 * A pattern in which dates are written for people, with the names of a language: English unless
 * told. Fails with `locale.unknown` and `reading.pattern`.
 *
 * @see Unicode UTS #35 part 4, Date Format Patterns
 */
export function datePattern(pattern: string, locale = "en"): Result<DatePattern> {
  const names = namesOf([locale]);
  if (!names.ok) return names;
  return compilePattern(pattern, { names: names.value, locale, twoDigitYearFrom: ANY_CENTURY });
}
