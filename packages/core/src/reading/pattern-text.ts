/** The parts of a date and time that a pattern can have. */
export type Field =
  | "year"
  | "month"
  | "day"
  | "dayOfYear"
  | "quarter"
  | "weekYear"
  | "week"
  /** 1 for Monday to 7 for Sunday. */
  | "weekday"
  | "weekdayName"
  | "hour"
  | "hour12"
  | "half"
  | "minute"
  | "second"
  | "fraction"
  | "offset"
  /** An IANA name. */
  | "zone"
  /** 1 for years of our era, 0 for those before it. */
  | "era";

/** A piece of a pattern: a field and the number of its letters, or a literal text. */
export interface PatternPiece {
  readonly field?: Field;
  readonly width: number;
  readonly literal: string;
  /** Of an offset: whether none is written in digits, and not as Z. */
  readonly isZeroInDigits?: boolean;
  /** Of an offset: whether GMT stands before it, and alone in place of none. */
  readonly isGmt?: boolean;
}

interface Letter {
  readonly field: Field;
  /** The numbers of letters that are read. */
  readonly widths: readonly number[];
  /** By their number: the width of X that is written alike. */
  readonly widthAs?: Readonly<Record<number, number>>;
  readonly isZeroInDigits?: (width: number) => boolean;
  readonly isGmt?: boolean;
}

/** The letters of UTS #35 part 4, table "Date Field Symbol Table", that are read. */
const LETTERS: Readonly<Record<string, Letter>> = {
  y: { field: "year", widths: [1, 2, 4] },
  M: { field: "month", widths: [1, 2, 3, 4] },
  L: { field: "month", widths: [1, 2, 3, 4] },
  d: { field: "day", widths: [1, 2] },
  D: { field: "dayOfYear", widths: [1, 3] },
  Q: { field: "quarter", widths: [1] },
  Y: { field: "weekYear", widths: [1, 4] },
  w: { field: "week", widths: [1, 2] },
  e: { field: "weekday", widths: [1] },
  E: { field: "weekdayName", widths: [1, 2, 3, 4] },
  H: { field: "hour", widths: [1, 2] },
  h: { field: "hour12", widths: [1, 2] },
  a: { field: "half", widths: [1] },
  m: { field: "minute", widths: [1, 2] },
  s: { field: "second", widths: [1, 2] },
  S: { field: "fraction", widths: [1, 2, 3, 4, 5, 6, 7, 8, 9] },
  V: { field: "zone", widths: [2] },
  G: { field: "era", widths: [1, 2, 3] },
  X: { field: "offset", widths: [1, 2, 3] },
  x: { field: "offset", widths: [1, 2, 3], isZeroInDigits: () => true },
  Z: {
    field: "offset",
    widths: [1, 2, 3, 5],
    widthAs: { 1: 2, 2: 2, 3: 2, 5: 3 },
    isZeroInDigits: (width) => width < 5,
  },
  O: { field: "offset", widths: [4], widthAs: { 4: 3 }, isGmt: true },
};

/** Characters of a pattern at most. */
const LONGEST = 100;

/**
 * Takes a pattern apart; a text says what is wrong with it. One that is only written in may leave
 * out what a day needs to be distinguished from all others.
 */
export function parsePattern(
  pattern: string,
  {
    hasPivot,
    isWrittenOnly,
    isPartial = false,
  }: {
    readonly hasPivot: boolean;
    readonly isWrittenOnly: boolean;
    /** Whether a month, a quarter or a year alone is a date. */
    readonly isPartial?: boolean;
  },
): readonly PatternPiece[] | string {
  if (pattern.length > LONGEST) return `it is longer than ${LONGEST} characters`;
  const pieces: PatternPiece[] = [];
  for (const token of pattern.match(/([A-Za-z])\1*|'(?:[^']|'')*'|[^A-Za-z]/g) ?? []) {
    const piece = pieceOf(token);
    if (typeof piece === "string") return piece;
    pieces.push(piece);
  }
  if (isWrittenOnly) {
    const hasField = pieces.some(({ field }) => field !== undefined);
    if (pieces.some(({ field }) => field === "zone")) return "the name of a time zone is only read";
    return hasField ? (misplaced(pieces) ?? pieces) : "it has no part of a date";
  }
  return misplaced(pieces) ?? missing(pieces, hasPivot, isPartial) ?? pieces;
}

/**
 * A month or minutes where only the other can be meant, as `mm` between a day and a year: both are
 * written with that letter, and such a pattern would read dates that nobody wrote.
 */
function misplaced(pieces: readonly PatternPiece[]): string | null {
  let before: Field | null = null;
  let between = "";
  for (const { field, literal } of pieces) {
    if (field === undefined) {
      between += literal;
      continue;
    }
    const followsHour = before === "hour" || before === "hour12";
    if (field === "minute" && before !== null && !followsHour) {
      return `m is minutes, which follow the hour; here they follow the ${SPOKEN[before]}: M is the month`;
    }
    if (field === "month" && followsHour && between === ":") {
      return "M is the month, and here it follows the hour: m is minutes";
    }
    before = field;
    between = "";
  }
  return null;
}

/** The date directives of the C library's `strftime`, as date field letters. */
const DIRECTIVES: Readonly<Record<string, string>> = {
  d: "dd",
  e: "d",
  m: "MM",
  b: "MMM",
  B: "MMMM",
  y: "yy",
  Y: "yyyy",
  j: "DDD",
  a: "E",
  A: "EEEE",
  H: "HH",
  I: "hh",
  M: "mm",
  S: "ss",
  f: "SSSSSS",
  p: "a",
  z: "XX",
  F: "yyyy-MM-dd",
  T: "HH:mm:ss",
};

/**
 * The pattern that was probably meant by one in the letters of another convention, or with months
 * and minutes confused; null where none comes to mind, or that is no pattern either.
 *
 * @example meantPattern("DD/MM/YYYY") // "dd/MM/yyyy"
 */
export function meantPattern(pattern: string): string | null {
  const meant = /%[A-Za-z-]/.test(pattern) ? fromDirectives(pattern) : withUsualLetters(pattern);
  if (meant === null || meant === pattern) return null;
  const pieces = parsePattern(meant, { hasPivot: true, isWrittenOnly: false });
  return typeof pieces === "string" ? null : meant;
}

function fromDirectives(pattern: string): string | null {
  const directives = [...pattern.matchAll(/%-?([A-Za-z])/g)].map(([, letter = ""]) => letter);
  if (directives.some((letter) => DIRECTIVES[letter] === undefined)) return null;
  return pattern
    .replace(/%(-?)([A-Za-z])/g, (_, short: string, letter: string) => {
      const letters = DIRECTIVES[letter] ?? "";
      return short === "" ? letters : letters.slice(0, 1);
    })
    .replace(/(?<=[dy])T(?=[Hh])/, "'T'");
}

function withUsualLetters(pattern: string): string {
  let hasHour = false;
  const isHalved = /[aA]/.test(pattern);
  return (pattern.match(/([A-Za-z])\1*|'(?:[^']|'')*'|[^A-Za-z]/g) ?? [])
    .map((token) => {
      const width = token.length;
      switch (token[0]) {
        case "D":
          return /[Mm]/.test(pattern) ? "d".repeat(width) : token;
        case "Y":
          return pattern.includes("w") ? token : "y".repeat(width);
        case "H":
        case "h":
          hasHour = true;
          return (isHalved ? "h" : "H").repeat(width);
        case "m":
        case "M":
          return width > 2 ? "M".repeat(width) : (hasHour ? "m" : "M").repeat(width);
        case "S":
          return pattern.includes("s") ? token : "s".repeat(width);
        case "A":
          return "a";
        case "T":
          return "'T'";
        case "Z":
          return "XXX";
        default:
          return token;
      }
    })
    .join("");
}

function pieceOf(token: string): PatternPiece | string {
  if (token === "'") return "a quotation mark is not closed";
  if (token.startsWith("'")) {
    return { width: 0, literal: token === "''" ? "'" : token.slice(1, -1).replaceAll("''", "'") };
  }
  if (!/^[A-Za-z]/.test(token)) return { width: 0, literal: token };
  const letter = LETTERS[token[0] ?? ""];
  if (letter === undefined) return `the letter ${token[0] ?? ""} is not one that is read here`;
  if (!letter.widths.includes(token.length)) return `${token} is not a width that is read here`;
  const { field, widthAs, isZeroInDigits, isGmt } = letter;
  const width = widthAs?.[token.length] ?? token.length;
  const zero = isZeroInDigits?.(token.length) === true ? { isZeroInDigits: true } : {};
  return { field, width, literal: "", ...zero, ...(isGmt === true ? { isGmt } : {}) };
}

/** What keeps a pattern from naming one day, or one time, without doubt; null where nothing does. */
function missing(
  pieces: readonly PatternPiece[],
  hasPivot: boolean,
  isPartial: boolean,
): string | null {
  const fields = pieces.flatMap(({ field }) => (field === undefined ? [] : [field]));
  const has = (...wanted: readonly Field[]) => wanted.every((field) => fields.includes(field));
  const repeated = fields.find((field, index) => fields.indexOf(field) !== index);
  if (repeated !== undefined) return `it has the ${SPOKEN[repeated]} twice`;
  const byMonth = has("year", "month", "day");
  const byDay = has("year", "dayOfYear");
  const byWeek = has("weekYear", "week") && (has("weekday") || has("weekdayName"));
  const hasTime = has("hour") || has("hour12");
  const isCoarse = isPartial && !hasTime && !has("day") && !has("weekdayName") && has("year");
  if (!byMonth && !byDay && !byWeek && !isCoarse) {
    const wanted: Field = (["year", "month", "day"] as const).find((field) => !has(field)) ?? "day";
    return `it has no ${SPOKEN[wanted]}`;
  }
  if (has("hour12") !== has("half"))
    return "h and a are read together: hours of half a day need the half";
  if (has("hour", "hour12")) return "it has the hour twice";
  if (has("minute") && !has("hour") && !has("hour12")) return "it has minutes without an hour";
  if (has("second") && !has("minute")) return "it has seconds without minutes";
  if (has("fraction") && !has("second")) return "it has fractions without seconds";
  if (has("offset") && !hasTime) return "it has an offset without an hour";
  if (has("zone") && !hasTime) return "it has a time zone without an hour";
  if (has("zone", "offset")) return "it has an offset and a time zone: one says all";
  const shortYear = pieces.some(({ field, width }) => field === "year" && width === 2);
  return shortYear && !hasPivot
    ? "yy needs twoDigitYearFrom, the first year that two digits can mean"
    : null;
}

const SPOKEN: Record<Field, string> = {
  year: "year",
  month: "month",
  day: "day",
  dayOfYear: "day of the year",
  quarter: "quarter",
  weekYear: "year of the week",
  week: "week",
  weekday: "day of the week",
  weekdayName: "day of the week",
  hour: "hour",
  hour12: "hour",
  half: "half of the day",
  minute: "minute",
  second: "second",
  fraction: "fraction",
  offset: "offset",
  zone: "time zone",
  era: "era",
};
