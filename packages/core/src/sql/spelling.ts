import type { PatternPiece } from "../filters/index.js";

/** A name in quotes, with those in it doubled. */
export function quoted(name: string, quote: string): string {
  return `${quote}${name.includes(quote) ? name.replaceAll(quote, quote + quote) : name}${quote}`;
}

/** A pattern for LIKE; `!` makes the sign after it plain, which is not one that servers set. */
export function likeText(pattern: readonly PatternPiece[]): string {
  return pattern
    .map((piece) => {
      if (typeof piece === "string") return piece.replace(/[!%_]/g, "!$&");
      return piece.any === "signs" ? "%" : "_";
    })
    .join("");
}

/** Signs as a regular expression: a digit where there is null. */
export function signExpression(signs: readonly (string | null)[]): string {
  return signs
    .map((sign) => (sign === null ? "[0-9]" : sign.replace(/[\\^$.*+?()[\]{}|/-]/, "\\$&")))
    .join("");
}

/** The white space of ECMAScript, sign by sign. */
export const WHITE_SPACE =
  "\t\n\v\f\r \u00a0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a" +
  "\u2028\u2029\u202f\u205f\u3000\ufeff";
