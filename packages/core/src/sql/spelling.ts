import type { PatternPiece } from "../filters/index.js";
import type { FixedField, FixedForm, OffsetForm } from "../reading/index.js";

/** A name in quotes, with those in it doubled. */
export function quoted(name: string, quote: string): string {
  return `${quote}${name.includes(quote) ? name.replaceAll(quote, quote + quote) : name}${quote}`;
}

/** A pattern for LIKE; `!` makes the character after it plain, which is not one that servers set. */
export function likeText(pattern: readonly PatternPiece[]): string {
  return pattern
    .map((piece) => {
      if (typeof piece === "string") return piece.replace(/[!%_]/g, "!$&");
      return piece.any === "characters" ? "%" : "_";
    })
    .join("");
}

/**
 * A text of a form that names a day and a time that there are, as a regular expression: no
 * database reads a date, of which each has ideas of its own.
 */
export function dateExpression(form: FixedForm): string {
  const days = [
    // Most days by far are found by the first.
    { year: YEAR, month: "(?:0[1-9]|1[0-2])", day: "(?:0[1-9]|1[0-9]|2[0-8])" },
    { year: YEAR, month: "(?:0[13-9]|1[0-2])", day: "(?:29|30)" },
    { year: YEAR, month: "(?:0[13578]|1[02])", day: "31" },
    { year: LEAP_YEAR, month: "02", day: "29" },
  ];
  const date = `(?:${days.map((each) => expressionOf(form, { ...each, ...TIMES })).join("|")})`;
  return form.offset === undefined ? date : date + offsetExpression(form.offset);
}

/** An offset that is written in one way only: none as Z, or as plus nothing. */
function offsetExpression({ hasColon, isZ }: OffsetForm): string {
  const colon = hasColon ? ":" : "";
  const hours = `(?:0[1-9]|1[0-9]|2[0-3])${colon}[0-5][0-9]`;
  const minutes = `00${colon}(?:0[1-9]|[1-5][0-9])`;
  return `(?:${isZ ? "Z" : `\\+00${colon}00`}|[+-](?:${hours}|${minutes}))`;
}

const YEAR = "(?:000[1-9]|00[1-9][0-9]|0[1-9][0-9][0-9]|[1-9][0-9][0-9][0-9])";
const LEAP_YEAR =
  "(?:[0-9][0-9](?:0[48]|[2468][048]|[13579][26])|(?:0[48]|[2468][048]|[13579][26])00)";
const TIMES = {
  hour: "(?:[01][0-9]|2[0-3])",
  minute: "[0-5][0-9]",
  second: "[0-5][0-9]",
  fraction: "[0-9][0-9][0-9]",
};

function expressionOf(
  { characters, places }: FixedForm,
  parts: Readonly<Record<FixedField, string>>,
) {
  const starts = new Map([...places].map(([field, { at }]) => [at, parts[field]]));
  return characters
    .map((character, at) => {
      if (character === null) return starts.get(at) ?? "";
      return character.replace(/[\\^$.*+?()[\]{}|/-]/, "\\$&");
    })
    .join("");
}

/** The white space of ECMAScript, character by character. */
export const WHITE_SPACE =
  "\t\n\v\f\r \u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a" +
  "\u2028\u2029\u202f\u205f\u3000\ufeff";
