import {
  MS_PER_DAY,
  dayOf,
  epochMs,
  isoDay,
  isoInstant,
  isoWall,
  type WallMs,
} from "../calendar/index.js";
import {
  failure,
  fault,
  notice,
  success,
  type Fault,
  type Notice,
  type Result,
} from "../faults/index.js";
import { offsetText, readIsoDate, type WrittenDate } from "./iso.js";
import { ENGLISH, namesOf } from "./names.js";
import { numberOf, readEpoch, readSerial, type EpochEncoding } from "./numbers.js";
import { compilePattern, type DatePattern, type FinePrecision } from "./pattern.js";
import type { DateEncoding } from "./reading.js";

/** A form in which callers may send dates, beside ISO 8601: as a column's, without its kind. */
export interface DateForm {
  readonly encoding: Exclude<DateEncoding, "native">;
  /** For text: UTS #35 patterns, tried in order. */
  readonly patterns?: readonly string[];
  readonly locales?: readonly string[];
  readonly twoDigitYearFrom?: number;
}

/** A form made ready for reading what callers send. */
export interface CompiledDateForm {
  /** The form in words: `dd/MM/yyyy`, `seconds since 1970`. */
  readonly name: string;
  /**
   * The date that a text names at the precision in which the form writes it, or null for a text
   * that has another form. Four digits are always a year, and never a number.
   */
  read(text: string): Result<WrittenDate> | null;
  /** What is odd about a text that is read: a number that another unit would make a likelier date of. */
  doubt(text: string): Notice | null;
}

const NUMBER_NAMES: Readonly<Record<Exclude<DateForm["encoding"], "text">, string>> = {
  "serial-1900": "a spreadsheet's day number",
  "serial-1904": "a spreadsheet's day number in the 1904 system",
  "epoch-s": "seconds since 1970",
  "epoch-ms": "milliseconds since 1970",
  "epoch-us": "microseconds since 1970",
};

/** Characters of `2025-02-28T14:30:05.250` at each precision. */
const LENGTHS: Readonly<Record<FinePrecision, number>> = {
  day: 10,
  hour: 13,
  minute: 16,
  second: 19,
  millisecond: 23,
};

/**
 * Makes a form ready. Fails, with every fault at once: `reading.pattern`, `locale.unknown`.
 *
 * @example compileDateForm({ encoding: "text", patterns: ["dd/MM/yyyy"] })
 */
export function compileDateForm(form: DateForm): Result<CompiledDateForm> {
  const { encoding } = form;
  if (encoding !== "text") {
    return success({
      name: NUMBER_NAMES[encoding],
      read: (text) => readNumber(text, encoding),
      doubt: (text) => unitDoubt(text, encoding),
    });
  }
  const faults: Fault[] = [];
  const names = namesOf(form.locales ?? []);
  if (!names.ok) faults.push(...names.faults);
  const settings = {
    names: names.ok ? names.value : ENGLISH,
    locale: form.locales?.[0] ?? "en",
    twoDigitYearFrom: form.twoDigitYearFrom ?? null,
  };
  const patterns = (form.patterns ?? []).flatMap((pattern) => {
    const compiled = compilePattern(pattern, settings);
    if (compiled.ok) return [compiled.value];
    faults.push(...compiled.faults);
    return [];
  });
  if (patterns.length === 0 && faults.length === 0) {
    faults.push(fault("reading.pattern", { pattern: "", reason: "none is named" }));
  }
  if (faults.length > 0) return failure(...faults);
  return success({
    name: patterns.map(({ pattern }) => pattern).join(" or "),
    read: (text) => readPatterns(text, patterns),
    doubt: () => null,
  });
}

/** Dates in which year, month and day cannot be taken for one another. */
const TELLING = ["2001", "2001-02", "2001-02-03"];

/**
 * Whether ISO 8601 still means what it says beside a form: `yyyy-dd-MM` would read its days as
 * months, `dd/MM/yyyy` leaves it alone.
 */
export function leavesIso(form: CompiledDateForm): boolean {
  return TELLING.every((text) => {
    const [read, iso] = [form.read(text), readIsoDate(text)];
    return read === null || (read.ok && iso.ok && read.value.start === iso.value.start);
  });
}

function readPatterns(text: string, patterns: readonly DatePattern[]): Result<WrittenDate> | null {
  let found: Fault | null = null;
  for (const pattern of patterns) {
    const read = pattern.read(text);
    if (read.kind === "fits") return written(read.wall, pattern.precision, read.offset);
    if (read.kind === "fault") found ??= read.fault;
  }
  return found === null ? null : failure(found);
}

function readNumber(
  text: string,
  encoding: Exclude<DateForm["encoding"], "text">,
): Result<WrittenDate> | null {
  if (/^\d{4}$/.test(text) || Number.isNaN(numberOf(text))) return null;
  if (encoding === "serial-1900" || encoding === "serial-1904") {
    const read = readSerial(text, encoding);
    if (read.kind === "fault") return failure(read.fault);
    return written(read.value, read.value % MS_PER_DAY === 0 ? "day" : "millisecond", null);
  }
  const read = readEpoch(text, encoding);
  if (read.kind === "fault") return failure(read.fault);
  const instant = isoInstant(read.value);
  // A whole number of seconds names a second; of a finer unit, or with a fraction, a millisecond.
  const isSecond = encoding === "epoch-s" && !instant.includes(".");
  return readIsoDate(isSecond || instant.includes(".") ? instant : instant.replace("Z", ".000Z"));
}

const EPOCHS = [
  ["epoch-s", "seconds"],
  ["epoch-ms", "milliseconds"],
  ["epoch-us", "microseconds"],
] as const;

/** Between them lie the dates that people filter by: before 1980 and after 2100 is another unit. */
const LIKELY = { from: Date.UTC(1980, 0, 1), to: Date.UTC(2100, 0, 1) };

/** Whether a count since 1970 is an unlikely date that would be a likely one in another unit. */
function unitDoubt(text: string, encoding: Exclude<DateForm["encoding"], "text">): Notice | null {
  const msIn = (unit: EpochEncoding) => {
    const read = Number.isNaN(numberOf(text)) ? null : readEpoch(text, unit);
    return read?.kind === "fits" ? Number(read.value) : NaN;
  };
  const isLikely = (ms: number) => ms >= LIKELY.from && ms < LIKELY.to;
  const own = EPOCHS.find(([unit]) => unit === encoding);
  if (own === undefined || /^\d{4}$/.test(text)) return null;
  const ms = msIn(own[0]);
  if (Number.isNaN(ms) || isLikely(ms)) return null;
  const other = EPOCHS.find(([unit]) => isLikely(msIn(unit)));
  if (other === undefined) return null;
  const [read, meant] = [ms, msIn(other[0])].map((each) => isoInstant(epochMs(each))) as [
    string,
    string,
  ];
  return notice("number.unit", { text, read, unit: other[1], meant });
}

/** A time cut to a precision, as if it had been written so in ISO 8601. */
function written(wall: WallMs, precision: FinePrecision, offset: number | null) {
  if (precision === "day") return readIsoDate(isoDay(dayOf(wall)));
  const time = isoWall(wall);
  const whole = time.includes(".") ? time : `${time}.000`;
  return readIsoDate(whole.slice(0, LENGTHS[precision]) + offsetText(offset));
}
