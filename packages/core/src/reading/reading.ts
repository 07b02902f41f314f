import {
  MS_PER_DAY,
  dayOf,
  epochMs,
  findZone,
  isoDay,
  readWall,
  type Zone,
} from "../calendar/index.js";
import { failure, fault, success, type Fault, type Result } from "../faults/index.js";
import { readIsoDate } from "./iso.js";
import { compilePattern, type DatePattern } from "./pattern.js";

/** What a date value means: a calendar day, a wall-clock time, or a point in time. */
export const DATE_KINDS = ["date", "local", "instant"] as const;
export type DateKind = (typeof DATE_KINDS)[number];

/** How a date value is stored. */
export const DATE_ENCODINGS = ["text"] as const;
export type DateEncoding = (typeof DATE_ENCODINGS)[number];

/** How the stored values of a column are understood as dates. */
export interface Reading {
  readonly kind: DateKind;
  readonly encoding: DateEncoding;
  /** UTS #35 patterns, tried in order; none means ISO 8601. */
  readonly patterns?: readonly string[];
  /** The zone of wall-clock texts, where the kind is `instant` and no offset is written. */
  readonly zone?: string;
  /** Spellings of "no date", compared without outer white space and letter case. */
  readonly blanks?: readonly string[];
  /** Dates that stand for "no date", in ISO 8601. */
  readonly sentinels?: readonly string[];
}

/**
 * What a cell is under a reading. `ms` is milliseconds since 1970-01-01T00:00: on the wall
 * clock for `date` (at 00:00) and `local`, in universal time for `instant`.
 */
export type Cell =
  | { readonly state: "dated"; readonly ms: number }
  | { readonly state: "blank" }
  | { readonly state: "unreadable"; readonly fault: Fault };

/** The three states of a cell; every cell is in just one of them. */
export type CellState = Cell["state"];

/** A reading made ready for use. */
export interface CompiledReading {
  readonly kind: DateKind;
  /** Reads one stored value; never throws. */
  read(stored: string | null): Cell;
}

const BLANK: Cell = { state: "blank" };

/**
 * Makes a reading ready for use.
 *
 * Null, empty and white space are always blank. Fails with `reading.pattern`, `zone.unknown`
 * and, for a sentinel that is no date, the faults of {@link readIsoDate}.
 *
 * @example
 * compileReading({ kind: "date", encoding: "text", patterns: ["dd/MM/yyyy"] })
 */
export function compileReading(reading: Reading): Result<CompiledReading> {
  const faults: Fault[] = [];
  const patterns: DatePattern[] = [];
  for (const pattern of reading.patterns ?? []) {
    const compiled = compilePattern(pattern);
    if (compiled.ok) patterns.push(compiled.value);
    else faults.push(...compiled.faults);
  }
  let zone: Zone | null = null;
  if (reading.zone !== undefined) {
    const found = findZone(reading.zone);
    if (found.ok) zone = found.value;
    else faults.push(...found.faults);
  }
  const sentinels = new Set<number>();
  for (const sentinel of reading.sentinels ?? []) {
    const cell = readIso(sentinel, reading.kind, zone);
    if (cell.state === "dated") sentinels.add(cell.ms);
    else if (cell.state === "unreadable") faults.push(cell.fault);
  }
  if (faults.length > 0) return failure(...faults);

  const blanks = new Set((reading.blanks ?? []).map((spelling) => folded(spelling)));
  const { kind } = reading;
  return success({
    kind,
    read(stored) {
      if (stored === null) return BLANK;
      const text = stored.trim();
      if (text === "" || blanks.has(folded(text))) return BLANK;
      const cell =
        patterns.length === 0
          ? readIso(text, kind, zone)
          : readPatterns(text, patterns, kind, zone);
      return cell.state === "dated" && sentinels.has(cell.ms) ? BLANK : cell;
    },
  });
}

function readIso(text: string, kind: DateKind, zone: Zone | null): Cell {
  const written = readIsoDate(text);
  if (!written.ok) return unreadable(written.faults[0], text);
  const { precision, start, offset } = written.value;
  if (["year", "quarter", "month", "week"].includes(precision)) {
    return unreadable(fault("date.form", { text }), text);
  }
  if (kind === "date") {
    if (precision !== "day") {
      return unreadable(fault("date.timeRefused", { text, day: isoDay(dayOf(start)) }), text);
    }
    return { state: "dated", ms: start };
  }
  if (kind === "local") {
    if (offset !== null) return unreadable(fault("date.offsetRefused", { text }), text);
    return { state: "dated", ms: start };
  }
  if (offset !== null) return { state: "dated", ms: epochMs(start - offset) };
  return instantOf(text, start, zone);
}

function readPatterns(
  text: string,
  patterns: readonly DatePattern[],
  kind: DateKind,
  zone: Zone | null,
): Cell {
  let reason: string | null = null;
  for (const pattern of patterns) {
    const found = pattern.read(text);
    if (found.kind === "impossible") reason ??= found.reason;
    if (found.kind !== "fits") continue;
    if (kind === "instant") return instantOf(text, found.wall, zone);
    if (kind === "date" && found.wall % MS_PER_DAY !== 0) {
      const day = isoDay(dayOf(found.wall));
      return unreadable(fault("date.timeRefused", { text, day }), text);
    }
    return { state: "dated", ms: found.wall };
  }
  return reason === null
    ? unreadable(fault("date.pattern", { text, patterns: patterns.map((p) => p.pattern) }), text)
    : unreadable(fault("date.impossible", { text, reason }), text);
}

/** A wall-clock text is a point in time only where its zone is known and shows it once. */
function instantOf(text: string, wall: Parameters<typeof readWall>[1], zone: Zone | null): Cell {
  if (zone === null) return unreadable(fault("date.form", { text }), text);
  const found = readWall(zone, wall);
  switch (found.kind) {
    case "once":
      return { state: "dated", ms: found.instant };
    case "twice":
      // The first of the two, as RFC 5545 section 3.3.5 has it.
      return { state: "dated", ms: found.earlier };
    case "never":
      return unreadable(
        fault("date.impossible", { text, reason: `the clocks of ${zone.id} jump over it` }),
        text,
      );
  }
}

function unreadable(found: Fault | undefined, text: string): Cell {
  return {
    state: "unreadable",
    fault: { ...(found ?? fault("date.form", { text })), value: text },
  };
}

function folded(text: string): string {
  return text.trim().toLowerCase();
}
