import {
  END_MS,
  FIRST_MS,
  MS_PER_DAY,
  UTC,
  findZone,
  dayOf,
  epochMs,
  isoDay,
  isoTime,
  readWall,
  type WallMs,
  type Zone,
} from "../calendar/index.js";
import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import { unreadable, type Cell, type DateKind } from "./cell.js";
import { Clock } from "./clock.js";
import { readIsoDate } from "./iso.js";
import { ENGLISH, namesOf, normalText } from "./names.js";
import {
  readEpoch,
  readSerial,
  serialMs,
  writeEpoch,
  writeSerial,
  type EpochEncoding,
  type SerialEncoding,
} from "./numbers.js";
import { compilePattern } from "./pattern.js";
import {
  ISO_8601,
  PARTIAL_ISO_8601,
  RFC_5322,
  asTextPattern,
  type TextPattern,
} from "./text-pattern.js";

/** How a date value is stored. */
export const DATE_ENCODINGS = [
  "native",
  "text",
  "serial-1900",
  "serial-1904",
  "epoch-s",
  "epoch-ms",
  "epoch-us",
] as const;
export type DateEncoding = (typeof DATE_ENCODINGS)[number];

/**
 * What a date without a day can be to a window: its first day, or all of its days, which lie within the window
 * or have a day in common with it.
 */
export const PARTIAL_POLICIES = ["start", "inside", "overlaps"] as const;
export type PartialPolicy = (typeof PARTIAL_POLICIES)[number];

/** Patterns that are known by name, beside those of UTS #35. */
export const NAMED_PATTERNS = ["iso8601", "rfc5322"] as const;

/** How the stored values of a column are understood as dates. */
export interface Reading {
  readonly kind: DateKind;
  readonly encoding: DateEncoding;
  /** For text: UTS #35 patterns or {@link NAMED_PATTERNS}, tried in order; none means ISO 8601. */
  readonly patterns?: readonly string[];
  /** The languages of month and day names; none means English. */
  readonly locales?: readonly string[];
  /** The zone in which wall-clock times become instants, or instants days; none means UTC. */
  readonly zone?: string;
  /** Spellings of "no date", compared without outer white space and letter case. */
  readonly blanks?: readonly string[];
  /** Dates that stand for "no date", in ISO 8601; each covers the whole of the time it names. */
  readonly sentinels?: readonly string[];
  /** The first of the hundred years that two digits can mean, 1 to 9900. */
  readonly twoDigitYearFrom?: number;
  /**
   * What a month, a quarter or a year without a day is, such as `1977` or `2010-12`. By default it is no date. For
   * strings of the kind `date`. In the order of records, and to all but windows, it is its first day.
   */
  readonly partial?: PartialPolicy;
  /**
   * Whether only strings that are spelled just as the pattern writes them are dates, and only
   * blanks as they are listed: then a database that knows nothing of patterns can recognise them too.
   */
  readonly exact?: boolean;
}

/** A reading made ready for use. */
export interface CompiledReading {
  readonly kind: DateKind;
  /** The intervals of dates that stand for "no date", as {@link Cell}'s `ms`. */
  readonly sentinels: readonly { readonly start: number; readonly end: number }[];
  /** Reads one stored value; never throws. */
  read(stored: string | number | null): Cell;
  /**
   * Only the date of a stored value, as {@link Cell}'s `ms`; NaN where it is blank or unreadable.
   * For whole columns: it makes nothing, and is several times faster where nothing fits.
   */
  dateOf(stored: string | number | null): number;
  /** The stored form of a dated cell's `ms`, in the first pattern in which it reads back as the same. */
  write(ms: number): string | number;
}

/**
 * Reads a whole column at once: the date of each value as {@link Cell}'s `ms`, NaN where it is
 * blank or unreadable.
 */
export function readColumn(
  reading: CompiledReading,
  values: ArrayLike<string | number | null>,
): Float64Array {
  const dates = new Float64Array(values.length);
  for (let index = 0; index < values.length; index++) {
    dates[index] = reading.dateOf(values[index] ?? null);
  }
  return dates;
}

const BLANK: Cell = { state: "blank" };

/**
 * Makes a reading ready for use.
 *
 * Null, empty and white space are always blank. Under the kind `date` a value with a time of
 * day is the day in which it lies; the stored text keeps the time. A time that the clocks jump
 * over is unreadable as an instant; one that they show twice is the first.
 *
 * Fails, with every fault at once: `reading.pattern`, `reading.partial`, `locale.unknown`, `zone.unknown`, and for
 * a sentinel that is no date the faults of {@link readIsoDate}.
 *
 * @example
 * compileReading({ kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] })
 */
export function compileReading(reading: Reading): Result<CompiledReading> {
  const faults: Fault[] = [];
  const patterns = patternsOf(reading, faults);
  const zone = zoneOf(reading, faults);
  const clock = new Clock(reading.kind, zone);
  const sentinels = sentinelsOf(reading, clock, faults);
  const { partial, kind, encoding } = reading;
  if (partial !== undefined && (kind !== "date" || encoding !== "text")) {
    faults.push(fault("reading.partial", {}, { value: partial }));
  }
  if (faults.length > 0) return failure(...faults);

  const locale = reading.locales?.[0] ?? "en";
  const isExact = reading.exact === true;
  const folded = (text: string) => (isExact ? text : normalText(text.trim(), locale));
  const blanks = new Set((reading.blanks ?? []).map(folded));
  // Most values are longer than any spelling of a blank, and then need not be looked up.
  const longestBlank = Math.max(0, ...(reading.blanks ?? []).map(({ length }) => length)) + 1;
  const isBlank = (text: string) => text.length <= longestBlank && blanks.has(folded(text));
  const readValue = valueReader(reading, patterns, clock);
  const read = (stored: string | number | null): Cell => {
    if (stored === null) return BLANK;
    const trimmed = typeof stored === "string" ? stored.trim() : stored;
    const value = isExact && trimmed !== "" ? stored : trimmed;
    if (value === "" || (blanks.size > 0 && isBlank(String(value)))) return BLANK;
    const cell = readValue(value);
    if (cell.state === "unreadable") {
      return { ...cell, fault: { ...cell.fault, value: String(stored) } };
    }
    if (cell.state === "blank") return cell;
    if (sentinels.some(({ start, end }) => cell.ms >= start && cell.ms < end)) return BLANK;
    if (cell.ms >= FIRST_MS && cell.ms < END_MS) return cell;
    // A zone or an offset led out of the calendar, where no window would find it.
    const where = reading.kind === "instant" ? "in UTC" : "on the clocks of its zone";
    const facts = {
      text: String(stored),
      reason: `it lies outside the years 0001 to 9999 ${where}`,
    };
    return unreadable(fault("date.impossible", facts, { value: String(stored) }));
  };
  const plain = (stored: string | number | null): number => {
    const cell = read(stored);
    return cell.state === "dated" ? cell.ms : NaN;
  };
  return success({
    kind: reading.kind,
    sentinels,
    read,
    dateOf: shortWay(reading, patterns, { clock, longestBlank, plain }) ?? plain,
    write: valueWriter(reading.encoding, patterns, clock),
  });
}

/**
 * A reader of dates alone that makes no faults, where the reading allows for one: patterns, or day
 * numbers. What is not plain goes the long way.
 */
function shortWay(
  { kind, encoding, zone, blanks = [], sentinels = [], exact = false }: Reading,
  patterns: readonly TextPattern[],
  long: {
    readonly clock: Clock;
    readonly longestBlank: number;
    readonly plain: CompiledReading["dateOf"];
  },
): CompiledReading["dateOf"] | null {
  const { clock, longestBlank, plain } = long;
  if (sentinels.length > 0 || exact) return null;
  const ofKind =
    kind === "date"
      ? (wall: number) => Math.floor(wall / MS_PER_DAY) * MS_PER_DAY
      : (wall: number) => wall;
  if (encoding === "serial-1900" || encoding === "serial-1904") {
    if (blanks.length > 0 || (kind === "instant" && zone !== undefined)) return null;
    return (stored) =>
      typeof stored === "number" ? ofKind(serialMs(stored, encoding)) : plain(stored);
  }
  if (encoding !== "text") return null;
  const anyWay = (text: string) => firstDate(text.trim(), patterns, clock);
  const [first] = patterns;
  const fixed = patterns.length === 1 && kind !== "instant" ? (first?.fixed ?? null) : null;
  if (fixed === null) {
    const beginWithDigits = patterns.every((pattern) => pattern.beginsWithDigit);
    return (stored) => {
      if (typeof stored !== "string" || stored.length <= longestBlank) return plain(stored);
      return beginWithDigits && isPlainNoDigit(stored.charCodeAt(0)) ? NaN : anyWay(stored);
    };
  }
  return (stored) => {
    if (typeof stored !== "string" || stored.length <= longestBlank) return plain(stored);
    const wall = fixed(stored);
    if (wall !== null) return ofKind(wall);
    // Of a string in plain characters nothing else is a digit or a space, but letters may be capitals.
    return first?.isOfDigits === true && PLAIN.test(stored) ? NaN : anyWay(stored);
  };
}

/** Plain characters without white space at either end. */
const PLAIN = /^[!-~](?:[ -~]*[!-~])?$/;

function isPlainNoDigit(code: number): boolean {
  return code > 32 && code < 127 && !(code >= 48 && code <= 57);
}

/** The date of a string that is not blank, in the first pattern that it fits; NaN where it is none. */
function firstDate(text: string, patterns: readonly TextPattern[], clock: Clock): number {
  for (const pattern of patterns) {
    const read = pattern.read(text);
    if (read.kind !== "fits") continue;
    const cell = clock.fromWall(read.wall, read.offset, text);
    return cell.state === "dated" && cell.ms >= FIRST_MS && cell.ms < END_MS ? cell.ms : NaN;
  }
  return NaN;
}

function zoneOf({ zone }: Reading, faults: Fault[]): Zone | null {
  if (zone === undefined) return null;
  const found = findZone(zone);
  if (found.ok) return found.value;
  faults.push(...found.faults);
  return null;
}

function patternsOf(reading: Reading, faults: Fault[]): readonly TextPattern[] {
  const found = namesOf(reading.locales ?? []);
  if (!found.ok) faults.push(...found.faults);
  // The patterns are looked at all the same, so that every fault is reported at once.
  const names = found.ok ? found.value : ENGLISH;
  const { twoDigitYearFrom = null } = reading;
  const locale = reading.locales?.[0] ?? "en";
  const isPartial = reading.partial !== undefined;
  const settings = { names, locale, twoDigitYearFrom, isPartial, zone: reading.zone };
  const patterns = reading.patterns?.length ? reading.patterns : ["iso8601"];
  return patterns.flatMap((pattern) => {
    if (pattern === "iso8601") return [isPartial ? PARTIAL_ISO_8601 : ISO_8601];
    if (pattern === "rfc5322") return [RFC_5322];
    const compiled = compilePattern(pattern, settings);
    if (compiled.ok) return [asTextPattern(compiled.value)];
    faults.push(...compiled.faults);
    return [];
  });
}

function sentinelsOf({ sentinels = [] }: Reading, clock: Clock, faults: Fault[]) {
  return sentinels.flatMap((sentinel) => {
    const written = readIsoDate(sentinel);
    if (!written.ok) {
      faults.push(...written.faults);
      return [];
    }
    const { start, end } = written.value;
    return clock.kind === "instant"
      ? [{ start: sentinelInstant(start, clock), end: sentinelInstant(end, clock) }]
      : [{ start: start, end: end }];
  });
}

function sentinelInstant(wall: WallMs, { zone }: Clock): number {
  const found = readWall(zone ?? UTC, wall);
  if (found.kind === "never") return found.change;
  return found.kind === "once" ? found.instant : found.earlier;
}

type ValueReader = (value: string | number) => Cell;

function valueReader(
  { encoding, exact: isExact = false }: Reading,
  patterns: readonly TextPattern[],
  clock: Clock,
): ValueReader {
  switch (encoding) {
    case "text":
      return (value) => readText(String(value), patterns, clock, isExact);
    case "native":
      return (value) =>
        typeof value === "number"
          ? unreadable(fault("date.type", { text: String(value), wanted: "a date of a database" }))
          : readNative(value, clock);
    case "serial-1900":
    case "serial-1904":
      return (value) => readSerialCell(value, encoding, clock);
    case "epoch-s":
    case "epoch-ms":
    case "epoch-us":
      return (value) => readEpochCell(value, encoding, clock);
  }
}

function readText(
  text: string,
  patterns: readonly TextPattern[],
  clock: Clock,
  isExact: boolean,
): Cell {
  let found: Fault | null = null;
  const tried: string[] = [];
  for (const pattern of patterns) {
    const read = pattern.read(text);
    if (read.kind === "fits") {
      const { wall, offset } = read;
      const meant = isExact ? pattern.write(wall, epochMs(wall - (offset ?? 0)), clock.kind) : text;
      if (meant === text) {
        const cell = clock.fromWall(wall, offset, text);
        const isWhole = cell.state !== "dated" || read.last === undefined;
        return isWhole ? cell : { ...cell, last: read.last };
      }
      found ??= fault("date.spelling", { text, meant });
      continue;
    }
    // The first pattern whose form it has says why it is none.
    if (read.kind === "fault") found ??= read.fault;
    else if (read.pattern !== undefined) tried.push(read.pattern);
  }
  return unreadable(found ?? fault("date.pattern", { text, patterns: tried }));
}

/** A database's own text for a date: `2024-03-05`, or with ` 14:30:05.250`; never an offset. */
function readNative(text: string, clock: Clock): Cell {
  const written = readIsoDate(text.replace(/^(\d{4}-\d{2}-\d{2}) /, "$1T"));
  if (!written.ok) return unreadable(written.faults[0] ?? fault("date.form", { text }));
  const { precision, start, offset } = written.value;
  if (offset !== null) return unreadable(fault("date.offsetRefused", { text }));
  if (
    precision === "year" ||
    precision === "quarter" ||
    precision === "month" ||
    precision === "week"
  ) {
    return unreadable(fault("date.form", { text }));
  }
  return clock.kind === "instant" && clock.zone === null
    ? { state: "dated", ms: start }
    : clock.fromWall(start, null, text);
}

function readSerialCell(value: string | number, encoding: SerialEncoding, clock: Clock): Cell {
  const read = readSerial(value, encoding);
  if (read.kind === "fault") return unreadable(read.fault);
  const cell =
    clock.kind === "instant" && clock.zone === null
      ? ({ state: "dated", ms: read.value } as const)
      : clock.fromWall(read.value, null, String(value));
  return cell.state === "dated" && read.notices.length > 0
    ? { ...cell, notices: read.notices }
    : cell;
}

function readEpochCell(value: string | number, encoding: EpochEncoding, clock: Clock): Cell {
  const read = readEpoch(value, encoding);
  return read.kind === "fault" ? unreadable(read.fault) : clock.fromInstant(read.value);
}

function valueWriter(
  encoding: DateEncoding,
  patterns: readonly TextPattern[],
  clock: Clock,
): (ms: number) => string | number {
  switch (encoding) {
    case "text":
      return (ms) => {
        const strings = patterns.map((pattern) =>
          pattern.write(clock.wallOf(ms), clock.instantOf(ms), clock.kind),
        );
        if (strings.length < 2) return strings[0] ?? "";
        // The first may have no room for a time that another has.
        return strings.find((text) => firstDate(text, patterns, clock) === ms) ?? strings[0] ?? "";
      };
    case "native":
      return (ms) => {
        const wall = clock.wallOf(ms);
        const day = dayOf(wall);
        if (clock.kind === "date") return isoDay(day);
        const time = isoTime(wall - day * MS_PER_DAY);
        return `${isoDay(day)} ${time.length > 8 ? time : `${time}.000`}`;
      };
    case "serial-1900":
    case "serial-1904":
      return (ms) => writeSerial(clock.wallOf(ms), encoding);
    case "epoch-s":
    case "epoch-ms":
    case "epoch-us":
      return (ms) => writeEpoch(clock.instantOf(ms), encoding);
  }
}
