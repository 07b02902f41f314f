/**
 * A text as it is compared without regard to letter case: every letter in the case to which its
 * capital is made small, accents kept (`É` is `é` and not `e`), composed characters as one (NFC).
 *
 * Stored beside each text, so that a database compares the same as the evaluator.
 *
 * @example foldText("STRASSE") === foldText("straße")
 */
export function foldText(text: string): string {
  // Plain letters are by far the most, and have one small form.
  if (ASCII.test(text)) return text.toLowerCase();
  // A final sigma has a small form of its own, which depends on what stands around it.
  return text.normalize("NFC").toUpperCase().toLowerCase().replaceAll("ς", "σ");
}

// eslint-disable-next-line no-control-regex -- all of the plain characters, whatever they are
const ASCII = /^[\u0000-\u007f]*$/;

/** Whether a text says nothing: it is empty or white space. */
export function isBlankText(text: string | null): boolean {
  return text === null || text.trim() === "";
}
