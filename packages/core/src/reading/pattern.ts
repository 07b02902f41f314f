import {
  MS_PER_HOUR,
  MS_PER_MINUTE,
  findZone,
  readWall,
  wallMs,
  type WallMs,
} from "../calendar/index.js";
import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import type { Precision } from "./iso.js";
import { normalText, bareName, escaped, type DateNames, type NameTable } from "./names.js";
import { fixedReader, type FixedReader } from "./pattern-fixed.js";
import { meantPattern, parsePattern, type Field, type PatternPiece } from "./pattern-text.js";
import { civilOf, dateOf, lastDayOf, type DateValues } from "./pattern-day.js";

/** What a text is under a pattern: a time, or why it is none. */
export type PatternReading =
  | {
      readonly kind: "fits";
      readonly wall: WallMs;
      readonly offset: number | null;
      /** The last day of what names no day. */
      readonly last?: WallMs;
    }
  /** It has the pattern's form, and names what does not exist. */
  | { readonly kind: "fault"; readonly fault: Fault }
  /** It has another form; the pattern is named where one was compiled. */
  | { readonly kind: "other"; readonly pattern?: string };

/** How finely a text is written that names a day at least. */
export type FinePrecision = Exclude<Precision, "year" | "quarter" | "month" | "week">;

/** A date pattern made ready for reading and writing. */
export interface DatePattern {
  readonly pattern: string;
  /** The finest part of a date that it writes. */
  readonly precision: FinePrecision;
  /** Whether it has a UTC offset. */
  readonly hasOffset: boolean;
  read(text: string): PatternReading;
  /** The short way, for a pattern of fixed form. */
  readonly fixed: FixedReader | null;
  /** Whether every text of its form begins with a digit. */
  readonly beginsWithDigit: boolean;
  /** Whether its form has no letters, but those that stand for numbers. */
  readonly isOfDigits: boolean;
  /** A wall-clock time in this pattern; the offset, in milliseconds, is for patterns that have one. */
  write(wall: WallMs, offset: number): string;
}

/** What the meaning of a pattern depends on. */
export interface PatternSettings {
  readonly names: DateNames;
  /** The language in whose way letters are made small. */
  readonly locale: string;
  /** The first of the hundred years that two digits can mean; null where none are declared. */
  readonly twoDigitYearFrom: number | null;
  /** The IANA name of the zone on whose clocks times are written; UTC where there is none. */
  readonly zone?: string | undefined;
  /** Whether dates are only written in it, for people, and never read. */
  readonly isWrittenOnly?: boolean;
  /** Whether it may name a month, a quarter or a year alone, which is read as its first day. */
  readonly isPartial?: boolean;
}

/**
 * Compiles a pattern of date field letters, quoted text and other characters.
 *
 * Letters: `y` (`yyyy` four digits, `yy` two by the declared pivot), `M`–`MMMM`, `d`, `D`, `Q`,
 * `Y` with `w` and `e` or `E` (ISO 8601 weeks), `E`–`EEEE`, `H`, `h` with `a`, `m`, `s`, `S`,
 * `X`, `x`, `Z` and `ZZZZZ`, `OOOO` (`GMT`, `GMT+01:00`), `VV` (an IANA name) and `G` (AD or CE; earlier eras are refused). A
 * doubled letter wants exactly so many digits, a single one one or two. Names are read in the wide or abbreviated
 * spelling, with or without dots, in any letter case.
 *
 * Fails with `reading.pattern` where a letter is not known, repeated, missing or where another must
 * be: the pattern must name a day. The pattern that was probably meant comes with it.
 *
 * @see Unicode UTS #35 part 4, Date Format Patterns
 * @example compilePattern("dd/MM/yyyy", settings)
 */
export function compilePattern(pattern: string, settings: PatternSettings): Result<DatePattern> {
  const { isWrittenOnly = false, isPartial = false } = settings;
  const hasPivot = settings.twoDigitYearFrom !== null;
  const pieces = parsePattern(pattern, { hasPivot, isWrittenOnly, isPartial });
  if (typeof pieces === "string") {
    const facts = { pattern, reason: pieces, meant: meantPattern(pattern) };
    return failure(fault("reading.pattern", facts, { value: pattern }));
  }
  const fields = pieces.flatMap(({ field }) => (field === undefined ? [] : [field]));
  const hasOffset = fields.includes("offset") || fields.includes("zone");
  const slow = slowReader(pieces, settings);
  const isCoarse = !fields.some((field) => DAY_FIELDS.has(field));
  const readWhole = isCoarse ? withLastDay(slow, fields) : slow;
  const fast = isWrittenOnly || isCoarse ? null : fixedReader(pieces);
  return success({
    pattern,
    precision: finest(fields),
    hasOffset,
    fixed: fast,
    beginsWithDigit: pieces[0] !== undefined && isNumber(pieces[0]),
    isOfDigits: pieces.every(
      (piece) => isNumber(piece) || (piece.field === undefined && !/\p{L}/u.test(piece.literal)),
    ),
    read:
      fast === null
        ? readWhole
        : (text) => {
            const wall = fast(text);
            // What it does not take may be of another form, or has a fault of its own.
            if (wall === null || Number.isNaN(wall)) return slow(text);
            return { kind: "fits", wall: wallMs(wall), offset: null };
          },
    write: (wall, offset) => pieces.map((piece) => written(piece, wall, offset, settings)).join(""),
  });
}

const LETTERED: ReadonlySet<Field> = new Set(["weekdayName", "half", "offset", "zone", "era"]);

/** Whether a piece is digits alone in every text. */
function isNumber({ field, width }: PatternPiece): boolean {
  if (field === undefined) return false;
  return field === "month" ? width < 3 : !LETTERED.has(field);
}

/** The fields that tell a day from the others of its month or year. */
const DAY_FIELDS: ReadonlySet<Field> = new Set(["day", "dayOfYear", "week"]);

/** Reads a month, a quarter or a year with its last day. */
function withLastDay(read: DatePattern["read"], fields: readonly Field[]): DatePattern["read"] {
  const months = fields.includes("month") ? 1 : fields.includes("quarter") ? 3 : 12;
  return (text) => {
    const found = read(text);
    return found.kind === "fits" ? { ...found, last: lastDayOf(found.wall, months) } : found;
  };
}

function finest(fields: readonly Field[]): FinePrecision {
  if (fields.includes("fraction")) return "millisecond";
  if (fields.includes("second")) return "second";
  if (fields.includes("minute")) return "minute";
  return fields.includes("hour") || fields.includes("hour12") ? "hour" : "day";
}

/** Reads any text that has the pattern's form, by a regular expression without choices. */
function slowReader(pieces: readonly PatternPiece[], settings: PatternSettings) {
  const source = pieces
    .map(({ field, width, literal, isGmt = false }) => {
      if (field === undefined) return escaped(normalText(literal, settings.locale));
      return isGmt ? GMT_OFFSET : fieldSource(field, width, settings.names);
    })
    .join("");
  const whole = new RegExp(`^${source}$`, "u");
  const beginning = new RegExp(`^${source}(?![\\p{L}\\p{N}])`, "u");
  const fields = pieces.filter((piece) => piece.field !== undefined);
  return (text: string): PatternReading => {
    const normal = normalText(text, settings.locale);
    const match = whole.exec(normal);
    if (match === null) {
      const begun = beginning.exec(normal);
      if (begun === null) return { kind: "other" };
      const rest = normal.slice(begun[0].length);
      return { kind: "fault", fault: fault("date.trailing", { text, rest }) };
    }
    const values: DateValues = {};
    for (const [index, piece] of fields.entries()) {
      const name = unknownName(piece, match[index + 1] ?? "", values, settings);
      if (name !== null) return { kind: "fault", fault: fault("date.name", { text, ...name }) };
    }
    return readingOf(values, text);
  };
}

function readingOf(values: DateValues, text: string): PatternReading {
  const dated = dateOf(values);
  if (typeof dated === "string") {
    return { kind: "fault", fault: fault("date.impossible", { text, reason: dated }) };
  }
  if (values.zone === undefined)
    return { kind: "fits", wall: dated, offset: values.offset ?? null };
  const zone = findZone(values.zone);
  if (!zone.ok) return { kind: "fault", fault: fault("zone.unknown", { zone: values.zone }) };
  const found = readWall(zone.value, dated);
  if (found.kind === "never") {
    return { kind: "fault", fault: fault("date.skipped", { text, zone: zone.value.id }) };
  }
  // The first of two, as RFC 5545 section 3.3.5 has it.
  const instant = found.kind === "once" ? found.instant : found.earlier;
  return { kind: "fits", wall: dated, offset: dated - instant };
}

/** Takes a field's digits or name into the values; gives a name that is not known, or null. */
function unknownName(
  { field, width }: PatternPiece,
  digits: string,
  values: DateValues,
  settings: PatternSettings,
): { readonly name: string; readonly known: readonly string[] } | null {
  if (field === undefined) return null;
  const tables = nameTables(field, width, settings.names);
  if (tables.length > 0 && field !== "zone") {
    const name = bareName(digits);
    const number = tables
      .map(({ numbers }) => numbers.get(name))
      .find((each) => each !== undefined);
    if (number === undefined) {
      return { name: digits, known: tables.flatMap((table) => [...table.numbers.keys()]) };
    }
    values[field] = number;
  } else if (field === "offset") {
    values.offset = offsetMs(digits.replace("gmt", "") || "z");
  } else if (field === "zone") {
    values.zone = digits;
  } else if (field === "era") {
    values.era = /^(?:ad|ce|a\.d\.|c\.e\.)$/.test(digits) ? 1 : 0;
  } else if (field === "fraction") {
    values.fraction = Number(digits.slice(0, 3).padEnd(3, "0"));
  } else if (field === "year" && width === 2) {
    values.year = fullYear(Number(digits), settings.twoDigitYearFrom ?? 0);
  } else {
    values[field] = Number(digits);
  }
  return null;
}

function fullYear(twoDigits: number, from: number): number {
  return from + ((((twoDigits - from) % 100) + 100) % 100);
}

/** The tables in which a field's name is looked up; both widths are read, the wider first. */
function nameTables(field: Field, width: number, names: DateNames): readonly NameTable[] {
  if (field === "month" && width >= 3) return [names.wideMonths, names.abbreviatedMonths];
  if (field === "weekdayName") return [names.wideWeekdays, names.abbreviatedWeekdays];
  return field === "half" ? [names.halves] : [];
}

const NAME = "\\d{0,2}[\\p{L}\\p{M}][\\p{L}\\p{M}.-]*";
const HALF = "\\p{L}[\\p{L}.]*(?: \\p{L}\\.?)?";
const ZONE = "([a-z][a-z0-9_+-]*(?:/[a-z0-9_+-]+){0,2})";
const ERA = "(ad|bc|ce|bce|a\\.d\\.|b\\.c\\.|c\\.e\\.|b\\.c\\.e\\.)";
const OFFSET = "(z|[+-]\\d{2}(?::?\\d{2})?)";
const GMT_OFFSET = "(gmt(?:[+-]\\d{2}:\\d{2})?)";

/**
 * A name of a part of a date: one of those that have another form, such as “tháng 10”, or any that
 * has the common one, so that a name which is not known is named as such.
 */
function nameSource(form: string, tables: readonly NameTable[]): string {
  const common = new RegExp(`^${form}$`, "u");
  const others = tables
    .flatMap(({ normals }) => normals)
    .filter((name) => !common.test(name))
    .sort((a, b) => b.length - a.length)
    .map((name) => escaped(name).replaceAll(" ", " ?").replaceAll("\\.", "\\.?"));
  return `(${[...new Set(others), form].join("|")})`;
}

function fieldSource(field: Field, width: number, names: DateNames): string {
  switch (field) {
    case "year":
    case "weekYear":
      return width === 2 ? "(\\d{2})" : "(\\d{4})";
    case "month":
      return width >= 3
        ? nameSource(NAME, nameTables(field, width, names))
        : digitsSource(width, 2);
    case "weekdayName":
      return nameSource(NAME, nameTables(field, width, names));
    case "half":
      return nameSource(HALF, nameTables(field, width, names));
    case "offset":
      return OFFSET;
    case "zone":
      return ZONE;
    case "era":
      return ERA;
    case "fraction":
      return `(\\d{${width}})`;
    case "dayOfYear":
      return digitsSource(width, 3);
    case "quarter":
    case "weekday":
      return "(\\d)";
    case "day":
    case "week":
    case "hour":
    case "hour12":
    case "minute":
    case "second":
      return digitsSource(width, 2);
  }
}

function digitsSource(width: number, most: number): string {
  return width === 1 ? `(\\d{1,${most}})` : `(\\d{${width}})`;
}

/** Milliseconds of an offset in normal form; NaN for one that there cannot be. */
function offsetMs(text: string): number {
  if (text === "z") return 0;
  const hours = Number(text.slice(1, 3));
  const minutes = Number(text.slice(3).replace(":", "") || 0);
  if (hours > 23 || minutes > 59) return NaN;
  return (text.startsWith("-") ? -1 : 1) * (hours * MS_PER_HOUR + minutes * MS_PER_MINUTE);
}

function written(
  { field, width, literal, isZeroInDigits = false, isGmt = false }: PatternPiece,
  wall: WallMs,
  offset: number,
  { names, zone }: PatternSettings,
): string {
  if (field === undefined) return literal;
  const values = civilOf(wall);
  const padded = (value: number) => String(value).padStart(width, "0");
  switch (field) {
    case "year":
    case "weekYear":
      return String(values[field])
        .padStart(4, "0")
        .slice(width === 2 ? -2 : 0);
    case "month": {
      if (width < 3) return padded(values.month);
      const table = width === 3 ? names.abbreviatedMonths : names.wideMonths;
      return table.written[values.month - 1] ?? "";
    }
    case "weekdayName": {
      const table = width === 4 ? names.wideWeekdays : names.abbreviatedWeekdays;
      return table.written[values.weekday - 1] ?? "";
    }
    case "half":
      return names.halves.written[values.half] ?? "";
    case "fraction":
      return String(values.fraction).padStart(3, "0").padEnd(width, "0").slice(0, width);
    case "offset":
      if (isGmt) return offset === 0 ? "GMT" : `GMT${offsetText(offset, width, false)}`;
      return offsetText(offset, width, isZeroInDigits);
    case "zone":
      return zone ?? "UTC";
    case "era":
      return "AD";
    case "day":
    case "dayOfYear":
    case "quarter":
    case "week":
    case "weekday":
    case "hour":
    case "hour12":
    case "minute":
    case "second":
      return padded(values[field]);
  }
}

/** `X`: +01 or +0530; `XX`: +0100; `XXX`: +01:00; and Z at zero, or its digits as with `x` and `Z`. */
function offsetText(offset: number, width: number, isZeroInDigits: boolean): string {
  if (offset === 0 && !isZeroInDigits) return "Z";
  const size = Math.abs(offset);
  const hours = String(Math.floor(size / MS_PER_HOUR)).padStart(2, "0");
  const minutes = String(Math.floor(size / MS_PER_MINUTE) % 60).padStart(2, "0");
  const character = offset < 0 ? "-" : "+";
  if (width === 1 && minutes === "00") return character + hours;
  return width === 3 ? `${character}${hours}:${minutes}` : character + hours + minutes;
}
