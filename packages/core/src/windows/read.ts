import { MS_PER_HOUR, MS_PER_MINUTE, MS_PER_SECOND } from "../calendar/index.js";
import {
  Refused,
  failure,
  fault,
  notice,
  catchFault,
  success,
  type Notice,
  type Result,
} from "../faults/index.js";
import { readIsoDate } from "../reading/index.js";
import { withHyphens } from "./hyphens.js";
import {
  DAY_WORDS,
  RECURRING_NAMES,
  UNITS,
  WEEKDAYS,
  type Alternative,
  type Base,
  type Duration,
  type NumberSpan,
  type Part,
  type Range,
  type Recurring,
  type RecurringName,
  type Unit,
  type WeekdaySpan,
  type Window,
} from "./notation.js";
import { partText } from "./write.js";

/** A window that was read, and what there is to report about how it was written. */
export interface ReadWindow {
  readonly window: Window;
  readonly notices: readonly Notice[];
}

/** Characters of a window at most. */
const LONGEST_WINDOW = 2_000;
/** Units back or on at most: beyond, nearly all lead out of the years that can be written. */
const MAX_UNITS = 200_000;
const MAX_SHIFTS = 2;
/** The days that a unit can have at most; other units have no n-th day. */
const MAX_DAYS: Partial<Record<Unit, number>> = {
  week: 7,
  month: 31,
  quarter: 92,
  fiscalquarter: 92,
  year: 366,
  fiscalyear: 366,
};
/** White space around a window or one of its separators. */
const OUTER_SPACE = /^\s|\s$|\s[/|;]|[/|;]\s/;
const SAY_ISO = "say it in ISO 8601, such as 2025-03-05";

/**
 * Reads a window in its notation, in any letter case.
 *
 * White space around it and its separators is dropped and odd dashes are read as hyphens, each
 * with a notice. Fails with one fault that says where it lies and what is accepted: never an
 * exception, and never another meaning than the one written.
 *
 * @param parameter what the notices call the value
 * @example readWindow("month-1/now")
 */
export function readWindow(text: string, parameter = "window"): Result<ReadWindow> {
  if (text.length > LONGEST_WINDOW) {
    return failure(fault("window.tooLong", { characters: text.length, most: LONGEST_WINDOW }));
  }
  const notices: Notice[] = [];
  const dashed = withHyphens(text);
  if (dashed !== text) notices.push(notice("value.dashes", { parameter }));
  if (OUTER_SPACE.test(dashed)) notices.push(notice("value.trimmed", { parameter }));
  return catchFault(() => {
    const pieces = split({ text: dashed, at: 1 }, "|");
    const [first, ...others] = pieces.map(readAlternative);
    if (first === undefined) throw syntax({ text: dashed, at: 1 }, "says nothing");
    return { window: { alternatives: [first, ...others] }, notices };
  });
}

/**
 * Reads one part of a window: a date, or a word or unit that moves. Fails as {@link readWindow}
 * does, and with `window.oneDate` for an interval with more ends than one.
 */
export function readOneDate(
  text: string,
  parameter: string,
): Result<{ readonly part: Part; readonly notices: readonly Notice[] }> {
  const read = readWindow(text, parameter);
  if (!read.ok) return read;
  const [{ range, recurring }, ...others] = read.value.window.alternatives;
  if (range.kind !== "part" || recurring.length > 0 || others.length > 0) {
    return failure(fault("window.oneDate", { text }, { value: text }));
  }
  return success({ part: range.part, notices: read.value.notices });
}

/** Reads a length of time (ISO 8601-1:2019, 5.5.2); fails with `window.form`. */
export function readLength(text: string): Result<Duration> {
  return catchFault(() => readDuration({ text: text.trim(), at: 1 }));
}

/** An interval of the text that is read, with its place in the whole, counted from 1. */
interface Piece {
  readonly text: string;
  readonly at: number;
}

function syntax({ text, at }: Piece, reason: string): Refused {
  return new Refused(fault("window.syntax", { at, text, reason }, { value: text }));
}

function form({ text, at }: Piece, instead: string): Refused {
  return new Refused(fault("window.form", { at, text, instead }, { value: text }));
}

function number({ text, at }: Piece, accepted: string): Refused {
  return new Refused(fault("window.number", { at, text, accepted }, { value: text }));
}

/** The pieces between a separator, without the white space around them. */
function split(piece: Piece, separator: string): readonly Piece[] {
  const { text, at } = piece;
  if (!text.includes(separator)) return [trimmed(piece)];
  let place = at;
  return text.split(separator).map((raw) => {
    const piece = trimmed({ text: raw, at: place });
    place += raw.length + separator.length;
    return piece;
  });
}

function trimmed(piece: Piece): Piece {
  const { text, at } = piece;
  if (text.trim() === text) return piece;
  const start = text.length - text.trimStart().length;
  return { text: text.trim(), at: at + start };
}

/** A piece of a piece. */
function slice({ text, at }: Piece, start: number, end = text.length): Piece {
  return { text: text.slice(start, end), at: at + start };
}

function readAlternative(piece: Piece): Alternative {
  const [range, ...rules] = split(piece, ";");
  if (range === undefined || range.text === "") throw syntax(piece, "says nothing");
  const recurring = rules.map(readRecurring);
  const twice = recurring.find((each, index) =>
    recurring.slice(0, index).some(({ name }) => name === each.name),
  );
  if (twice !== undefined) throw syntax(piece, `names ${twice.name} twice`);
  return { range: readRange(range), recurring };
}

function readRange(piece: Piece): Range {
  const pieces = split(piece, "/");
  const [left, right, more] = pieces;
  if (left === undefined || more !== undefined) throw syntax(piece, "has more than two ends");
  if (right === undefined) return oneEnd(left);
  if (left.text === "" || right.text === "") {
    throw form(piece, "write .. for an end that is open");
  }
  const [isLengthLeft, isLengthRight] = [isDuration(left), isDuration(right)];
  if (isLengthLeft && isLengthRight)
    throw form(piece, "one of the two is a date, the other a length");
  if (isLengthLeft || isLengthRight) {
    const [lengthPiece, partPiece] = isLengthLeft ? [left, right] : [right, left];
    if (partPiece.text === "..") throw form(piece, "a length needs a date to begin or end at");
    const length = readDuration(lengthPiece);
    const part = readPart(partPiece);
    return isLengthLeft
      ? { kind: "lengthBefore", length, part }
      : { kind: "lengthAfter", part, length };
  }
  const start = readEnd(left);
  if (/^\d{1,2}$/.test(right.text) || /^\d{1,2}-\d{1,2}$/.test(right.text)) {
    throw form(
      right,
      `both ends are written in full, such as ${left.text}/${shortened(left.text, right.text)}`,
    );
  }
  return { kind: "ends", start, end: readEnd(right) };
}

/** What a shortened end most likely means: the end of the start's text put in its place. */
function shortened(start: string, end: string): string {
  return start.slice(0, Math.max(0, start.length - end.length)) + end;
}

function oneEnd(piece: Piece): Range {
  if (piece.text === "..") throw form(piece, "write ../.. for all dates");
  if (isDuration(piece)) {
    throw form(piece, `say where it ends or begins, such as ${piece.text.toUpperCase()}/now`);
  }
  const dots = piece.text.indexOf("..");
  if (dots > 0 && !piece.text.includes("=")) {
    const instead = `${piece.text.slice(0, dots)}/${piece.text.slice(dots + 2) || ".."}`;
    throw form(piece, `the ends are parted by a slash: ${instead}`);
  }
  return { kind: "part", part: readPart(piece) };
}

function readEnd(piece: Piece): Part | null {
  return piece.text === ".." ? null : readPart(piece);
}

function isDuration({ text }: Piece): boolean {
  return /^[+-]?P(?:\d|T|$)/i.test(text);
}

function readPart(piece: Piece): Part {
  // A sign before P is a shift; before digits after a time it is a UTC offset.
  const starts = /[+-]P/i.test(piece.text)
    ? [...piece.text.matchAll(/[+-](?=P)/gi)].map(({ index }) => index)
    : [];
  const base = readBase(slice(piece, 0, starts[0]));
  if (starts.length > MAX_SHIFTS) throw syntax(piece, `is moved more than ${MAX_SHIFTS} times`);
  const shifts = starts.map((start, index) => {
    const character = piece.text[start] === "-" ? (-1 as const) : (1 as const);
    return { sign: character, duration: readDuration(slice(piece, start + 1, starts[index + 1])) };
  });
  return { base, shifts, text: partText(base, shifts) };
}

function readBase(piece: Piece): Base {
  if (piece.text === "") throw syntax(piece, "says nothing");
  return /^\d/.test(piece.text) ? readLiteral(piece) : readWord(piece);
}

function readLiteral(piece: Piece): Base {
  const read = readIsoDate(piece.text.toUpperCase());
  if (read.ok) return { kind: "written", written: read.value };
  const [found] = read.faults;
  if (found === undefined || found.code === "date.form") throw form(piece, SAY_ISO);
  throw new Refused({ ...found, value: piece.text });
}

const WORD = /^([a-z]+)(?:([+-])(\d+))?(?:\.(-?)(\d+))?$/i;

function readWord(piece: Piece): Base {
  const match = WORD.exec(piece.text);
  const [, written = piece.text, character, count, fromEnd, nth] = match ?? [];
  const word = written.toLowerCase();
  const days = DAY_WORDS.get(word);
  if (match !== null && (days !== undefined || word === "now")) {
    if (count === undefined && nth === undefined) {
      return days === undefined
        ? { kind: "now" }
        : { kind: "unit", unit: "day", offset: days, nth: null };
    }
    const instead =
      word === "now"
        ? `say now${character ?? "-"}P${count ?? "1"}D`
        : `say day${character ?? ""}${count ?? ""}`;
    throw form(piece, instead);
  }
  const unit = UNITS.find((each) => each === word);
  if (match === null || unit === undefined) throw unknownWord(piece);
  const size = count === undefined ? 0 : units(piece, Number(count));
  const offset = character === "-" && size > 0 ? -size : size;
  if (nth === undefined) return { kind: "unit", unit, offset, nth: null };
  const most = MAX_DAYS[unit];
  if (most === undefined)
    throw form(piece, `only ${Object.keys(MAX_DAYS).join(", ")} have days to count`);
  const day = Number(nth);
  if (day < 1 || day > most)
    throw number(piece, `the days of a ${unit} are 1 to ${most}, or -1 to -${most}`);
  return {
    kind: "unit",
    unit,
    offset,
    nth: fromEnd === "-" ? -day : day,
  };
}

function units(piece: Piece, count: number): number {
  if (count <= MAX_UNITS) return count;
  throw number(piece, `${MAX_UNITS} units at most`);
}

function unknownWord(piece: Piece): Refused {
  const [word = piece.text] = /^[a-z]+/i.exec(piece.text) ?? [];
  const known = ["now", ...DAY_WORDS.keys(), ...UNITS];
  if (known.includes(word.toLowerCase())) {
    return form(
      slice(piece, word.length),
      "after a unit comes a number of them, such as month-1, or a day of it, such as month.15",
    );
  }
  return new Refused(
    fault("window.word", { at: piece.at, word, what: "a unit", known }, { value: piece.text }),
  );
}

const DURATION =
  /^P(?:(\d{1,9})Y)?(?:(\d{1,9})M)?(?:(\d{1,9})W)?(?:(\d{1,9})D)?(?:T(?:(\d{1,9})H)?(?:(\d{1,9})M)?(?:(\d{1,9})(?:[.,](\d{1,3}))?S)?)?$/i;

function readDuration(piece: Piece): Duration {
  const fields: readonly (string | undefined)[] = (DURATION.exec(piece.text) ?? []).slice(1);
  if (!fields.some((field) => field !== undefined) || /T$/i.test(piece.text)) {
    throw form(piece, "a length is written P1Y2M3W4DT5H6M7S, of which some is left out");
  }
  const count = (place: number) => Number(fields[place] ?? 0);
  return {
    years: count(0),
    months: count(1),
    weeks: count(2),
    days: count(3),
    elapsedMs:
      count(4) * MS_PER_HOUR +
      count(5) * MS_PER_MINUTE +
      count(6) * MS_PER_SECOND +
      Number((fields[7] ?? "").padEnd(3, "0")),
  };
}

/** What the numbers of a recurring part can be; negative ones count from the end. */
const LIMITS: Readonly<
  Record<Exclude<RecurringName, "BYDAY">, readonly [from: number, to: number, fromEnd: boolean]>
> = {
  BYMONTH: [1, 12, false],
  BYMONTHDAY: [1, 31, true],
  BYYEARDAY: [1, 366, true],
  BYWEEKNO: [1, 53, true],
  BYHOUR: [0, 23, false],
};

function readRecurring(piece: Piece): Recurring {
  const equals = piece.text.indexOf("=");
  const named = slice(piece, 0, equals < 0 ? undefined : equals).text.trim();
  const name = RECURRING_NAMES.find((each) => each === named.toUpperCase());
  if (name === undefined) {
    const what = "a recurring part";
    const { at } = piece;
    throw new Refused(
      fault(
        "window.word",
        { at, word: named, what, known: RECURRING_NAMES },
        { value: piece.text },
      ),
    );
  }
  if (equals < 0) throw form(piece, `say which, such as ${name}=1`);
  const items = split(slice(piece, equals + 1), ",");
  return name === "BYDAY"
    ? { name, spans: items.map(weekdaySpan) }
    : { name, spans: items.map((item) => numberSpan(item, name)) };
}

function numberSpan(piece: Piece, name: Exclude<RecurringName, "BYDAY">): NumberSpan {
  const [from, to, more] = split(piece, "..");
  if (from === undefined || more !== undefined) throw syntax(piece, "is not a number or a range");
  const first = recurringNumber(from, name);
  const last = to === undefined ? first : recurringNumber(to, name);
  if (first < 0 !== last < 0) throw syntax(piece, "goes from the beginning to the end");
  return { from: first, to: last };
}

function recurringNumber(piece: Piece, name: Exclude<RecurringName, "BYDAY">): number {
  const [from, to, fromEnd] = LIMITS[name];
  const accepted = `${name} is ${from} to ${to}${fromEnd ? ` or -1 to -${to}` : ""}`;
  if (!/^[+-]?\d{1,4}$/.test(piece.text)) throw number(piece, accepted);
  const value = Number(piece.text);
  const size = Math.abs(value);
  if (size < from || size > to || (value < 0 && !fromEnd)) throw number(piece, accepted);
  return value;
}

function weekdaySpan(piece: Piece): WeekdaySpan {
  const [from, to, more] = split(piece, "..");
  if (from === undefined || more !== undefined) throw syntax(piece, "is not a weekday or a range");
  const first = weekdayIn(from);
  const last = to === undefined ? first : weekdayIn(to);
  if (to !== undefined && (first.nth !== null || last.nth !== null)) {
    throw form(piece, "weekdays that are counted are listed with commas");
  }
  return { from: first.day, to: last.day, nth: first.nth };
}

function weekdayIn(piece: Piece): { readonly day: number; readonly nth: number | null } {
  const match = /^([+-]?\d{1,2})?([A-Z]{2})$/i.exec(piece.text);
  const [, nth, letters = piece.text] = match ?? [];
  const day = WEEKDAYS.findIndex((each) => each === letters.toUpperCase()) + 1;
  if (match === null || day === 0) {
    const { at, text: word } = piece;
    throw new Refused(
      fault("window.word", { at, word, what: "a weekday", known: WEEKDAYS }, { value: word }),
    );
  }
  if (nth === undefined) return { day, nth: null };
  const count = Number(nth);
  if (count === 0 || Math.abs(count) > 5)
    throw number(piece, "a month has up to 5 of a weekday: 1 to 5, or -1 to -5");
  return { day, nth: count };
}

const UNIT_AND_SPACE = new RegExp(`\\b(${UNITS.join("|")}) (?=\\d)`, "gi");

/**
 * A window as it arrived in a query string, where a `+` comes as a space: a space before `P`,
 * between a unit and digits, or before an offset after a time is read as `+`; between a date
 * and a time it is `T`.
 */
export function fromQueryString(text: string): string {
  if (!text.includes(" ")) return text;
  return text
    .replace(/(\d{4}-(?:\d{2}-\d{2}|\d{3}|W\d{2}-\d)) (?=\d{2}:\d{2})/gi, "$1T")
    .replace(
      /(T\d{2}(?::\d{2}(?::\d{2}(?:[.,]\d+)?)?)?) (?=\d{2}(?::?\d{2})?(?:$|[/|;+ ]))/gi,
      "$1+",
    )
    .replace(/(\S) (?=P\d|PT\d)/gi, "$1+")
    .replace(UNIT_AND_SPACE, "$1+");
}
