/** Dashes and minus characters that are typed or pasted for a hyphen. */
const DASHES = /[\u2010-\u2015\u2212\uFE58\uFE63\uFF0D]/;
const EVERY_DASH = new RegExp(DASHES, "g");

/** A text with odd dashes as hyphens; the same text where it has none. */
export function withHyphens(text: string): string {
  return DASHES.test(text) ? text.replace(EVERY_DASH, "-") : text;
}
