import type { Result } from "../faults/index.js";
import { namesOf } from "./names.js";
import { compilePattern, type DatePattern } from "./pattern.js";

/**
 * A pattern in which dates are written for people, with the names of a language: English by default. Fails with `locale.unknown` and `reading.pattern`.
 *
 * @see Unicode UTS #35 part 4, Date Format Patterns
 */
export function datePattern(pattern: string, locale = "en"): Result<DatePattern> {
  const names = namesOf([locale]);
  if (!names.ok) return names;
  const settings = { names: names.value, locale, twoDigitYearFrom: null, isWrittenOnly: true };
  return compilePattern(pattern, settings);
}
