/** A distinct value of a column, and the number of its cells. */
export interface ValueCount {
  readonly value: string | number | null;
  readonly count: number;
}

/** Spellings of "no date" that are looked for, in lower case. */
const BLANK_SPELLINGS = new Set([
  "n/a",
  "na",
  "none",
  "null",
  "nil",
  "-",
  "--",
  "?",
  "tbc",
  "tbd",
  "unknown",
  "not set",
  "never",
  "0000-00-00",
  "0000-00-00 00:00:00",
  "00/00/0000",
]);
/** The values that are not blank, and the spellings and the number of those that are. */
export function filledAndBlank(values: readonly ValueCount[], confirmed: readonly string[]) {
  const blanks = new Set(confirmed.map(spelling));
  const isBlank = (each: ValueCount) =>
    !isFilled(each) || (blanks.size > 0 && blanks.has(spelling(String(each.value))));
  // Most columns have few blanks, or none, and then are not copied.
  const blankValues = values.filter(isBlank);
  const filled = blankValues.length === 0 ? values : values.filter((each) => !isBlank(each));
  const sum = (of: readonly ValueCount[]) => of.reduce((total, { count }) => total + count, 0);
  const spellings = new Set(
    blankValues.map(({ value }) => String(value ?? "").trim()).filter((text) => text !== ""),
  );
  return {
    cells: sum(values),
    blank: sum(blankValues),
    blanks: [...spellings],
    filled: filled as readonly Filled[],
  };
}

/** The values of a column that are not blank, however that is spelled. */
export function filledValues(values: readonly ValueCount[]): readonly Filled[] {
  return filledAndBlank(values, []).filled;
}

/** Spellings are the same in whatever letter case, and with white space around them. */
function spelling(text: string): string {
  return text.trim().toLowerCase();
}

const LONGEST_BLANK = 19;

function isFilled(each: ValueCount): each is Filled {
  if (each.value === null) return false;
  if (typeof each.value === "number") return true;
  const first = each.value.charCodeAt(0);
  // No spelling begins with the digits 1 to 9, which most dates do.
  if (first >= 49 && first <= 57) return true;
  const text = each.value.trim();
  return text !== "" && (text.length > LONGEST_BLANK || !BLANK_SPELLINGS.has(text.toLowerCase()));
}

/** A value that is not blank. */
export interface Filled {
  readonly value: string | number;
  readonly count: number;
}

export function textOf({ value }: Filled): string {
  return String(value).trim();
}

/** What an index beyond the values would give; there is none. */
export const NOTHING: Filled = { value: "", count: 0 };

/** At most so many of some values, evenly from the first to the last. */
export function spread(filled: readonly Filled[], most: number): readonly Filled[] {
  const step = Math.ceil(filled.length / most);
  if (step <= 1) return filled;
  return Array.from({ length: Math.floor(filled.length / step) }, (_, index) => {
    return filled[index * step] ?? NOTHING;
  });
}

/** Forms of values that are followed up; a column of dates has few, one of notes with numbers many. */
const MAX_FORMS = 400;
/** Values of one form that are followed up; their words may differ. */
const SAMPLES_OF_A_FORM = 30;

/** Values that are looked through for more of the forms that are known, where there are too many forms. */
const LOOKED_THROUGH = 20_000;

/** Values of every form that a date can have: the same characters, with digits and letters taken for equal. */
export function samplesOf(filled: readonly Filled[]): readonly Filled[] {
  const seen = new Map<number, number>();
  const samples: Filled[] = [];
  for (let at = 0; at < filled.length; at++) {
    if (at >= LOOKED_THROUGH && seen.size >= MAX_FORMS) break;
    const each = filled[at] ?? NOTHING;
    const text = textOf(each);
    if (!hasDigitsOfDate(text)) continue;
    const form = formOf(text);
    const before = seen.get(form) ?? 0;
    if (before >= SAMPLES_OF_A_FORM || (before === 0 && seen.size >= MAX_FORMS)) continue;
    seen.set(form, before + 1);
    samples.push(each);
  }
  return samples;
}

/** Digits of a date at least, as in “3 May 03”, and at most. */
const DATE_DIGITS = { least: 3, most: 28 };

/** Whether a text has as many digits as a date; of other scripts any character may be one. */
function hasDigitsOfDate(text: string): boolean {
  let digits = 0;
  for (let index = 0; index < text.length; index++) {
    const code = text.charCodeAt(index);
    if (code >= 128) return true;
    if (code >= 48 && code <= 57) digits++;
  }
  return digits >= DATE_DIGITS.least && digits <= DATE_DIGITS.most;
}

/** A number for the form of a text; a chance agreement of two only costs samples. */
function formOf(text: string): number {
  let hash = text.length;
  const end = Math.min(text.length, 40);
  for (let index = 0; index < end; index++) {
    const code = text.charCodeAt(index);
    const isDigit = code >= 48 && code <= 57;
    const isLetter = code >= 128 || ((code | 32) >= 97 && (code | 32) <= 122);
    hash = Math.imul(hash ^ (isDigit ? 1 : isLetter ? 2 : code), 16_777_619);
  }
  return hash;
}
