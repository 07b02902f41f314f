import { daysInYear, weekday, dayNumber } from "./days.js";
import { MS_PER_HOUR } from "./time.js";
import {
  FIRST_YEAR_OF_CHANGES,
  FIRST_YEAR_OF_RULES,
  utcYearStart,
  type OffsetChange,
  type YearOfChanges,
  type Zone,
} from "./zone.js";

/**
 * A piece of time within which a zone's clocks go on evenly, so that one shift turns every instant
 * of it into the day and the hour that count there.
 */
export interface ClockPiece {
  /** The first instant of the piece, in milliseconds since 1970-01-01T00:00:00Z. */
  readonly from: number;
  /** Milliseconds to add to an instant. */
  readonly shift: number;
}

/**
 * The pieces of a zone's clock from one instant up to another, in order; the first begins at `from`
 * or before. They reach at most to the year 2100: from then on see {@link clockYears}.
 *
 * Days and hours lie side by side. Where the clocks go back over the beginning of an hour, what they
 * show again still belongs to the hour that had begun: its shift leads there.
 */
export function clockPieces(zone: Zone, from: number, to: number): readonly ClockPiece[] {
  const first = clamped(yearOf(from));
  const last = Math.max(first, clamped(yearOf(to - 1)));
  const years: YearOfChanges[] = [];
  for (let year = first; year <= last; year++) years.push(zone.changesIn(year));
  const pieces = piecesOf(years, Number.NEGATIVE_INFINITY);
  const start = pieces.findLastIndex((piece) => piece.from <= from);
  return pieces.slice(start).filter((piece, index) => index === 0 || piece.from < to);
}

/** A piece of time within which a zone's clocks are ahead of UTC by one offset. */
export interface OffsetPiece {
  /** Its first point, in milliseconds: an instant, or a wall-clock time. */
  readonly from: number;
  /** In milliseconds; null over wall-clock times that never happen. */
  readonly offset: number | null;
}

/** What a zone's offset is looked up by: the instant, or the wall-clock time. */
export type OffsetBy = "instant" | "wall";

/**
 * The offsets of a zone in order, up to the year 2100; the first begins at -Infinity. By wall-clock times the offset
 * is that with which a time is shown first.
 */
export function offsetPieces(zone: Zone, by: OffsetBy): readonly OffsetPiece[] {
  const years: YearOfChanges[] = [];
  for (let year = FIRST_YEAR_OF_CHANGES - 1; year < FIRST_YEAR_OF_RULES; year++) {
    years.push(zone.changesIn(year));
  }
  return offsetsOf(years, by, Number.NEGATIVE_INFINITY);
}

/** A kind of calendar year from 2100 on, and the pieces of the clock within it. */
export interface ClockYear<Piece = ClockPiece> {
  /** The weekday of 1 January, 1 for Monday to 7. */
  readonly firstWeekday: number;
  readonly isLeap: boolean;
  /** With `from` counted from the beginning of the year; the first begins at 0. */
  readonly pieces: readonly Piece[];
}

/**
 * The pieces of a zone's clock in each of the 14 kinds of year from 2100 on, in which only rules
 * change clocks: years of one length that begin on the same weekday are alike. They are years of UTC.
 */
export function clockYears(zone: Zone): readonly ClockYear[] {
  return kindsOfYear((year, start) => piecesOf([zone.changesIn(year)], start));
}

/** The offsets of a zone in each kind of year from 2100 on: of years of UTC, or of the wall clock. */
export function offsetYears(zone: Zone, by: OffsetBy): readonly ClockYear<OffsetPiece>[] {
  return kindsOfYear((year, start) => offsetsOf([zone.changesIn(year)], by, start));
}

function kindsOfYear<Piece extends { readonly from: number }>(
  make: (year: number, start: number) => readonly Piece[],
): readonly ClockYear<Piece>[] {
  const years = new Map<string, ClockYear<Piece>>();
  for (let year = FIRST_YEAR_OF_RULES; years.size < KINDS_OF_YEAR; year++) {
    const firstWeekday = weekday(dayNumber(year, 1, 1));
    const isLeap = daysInYear(year) === 366;
    const kind = `${firstWeekday} ${isLeap}`;
    if (years.has(kind)) continue;
    const start = utcYearStart(year);
    const pieces = make(year, start).map((piece) => ({ ...piece, from: piece.from - start }));
    years.set(kind, { firstWeekday, isLeap, pieces });
  }
  return [...years.values()];
}

function offsetsOf(
  years: readonly YearOfChanges[],
  by: OffsetBy,
  from: number,
): readonly OffsetPiece[] {
  let before = years[0]?.offset ?? 0;
  const pieces: OffsetPiece[] = [{ from, offset: before }];
  for (const { at, offset } of years.flatMap(({ changes }) => changes)) {
    if (by === "instant") pieces.push({ from: at, offset });
    else {
      // Put forward, the clocks leave times out; put back, they show some again, which are those shown first.
      if (offset > before) pieces.push({ from: at + before, offset: null });
      pieces.push({ from: at + Math.max(before, offset), offset });
    }
    before = offset;
  }
  return pieces;
}

const KINDS_OF_YEAR = 14;

function piecesOf(years: readonly YearOfChanges[], from: number): readonly ClockPiece[] {
  let shift = years[0]?.offset ?? 0;
  const pieces: ClockPiece[] = [{ from, shift }];
  for (const change of years.flatMap(({ changes }) => changes)) {
    pieces.push(...piecesAfter(change, shift));
    shift = change.offset;
  }
  return pieces;
}

/** The pieces that a change begins: an hour that had begun goes on until the clocks are there again. */
function piecesAfter({ at, offset }: OffsetChange, before: number): readonly ClockPiece[] {
  const begun = Math.ceil((at + before) / MS_PER_HOUR) * MS_PER_HOUR - MS_PER_HOUR;
  const shownAgain = begun - offset;
  const pieces: ClockPiece[] = [];
  for (let from: number = at; from < shownAgain; from += MS_PER_HOUR) {
    pieces.push({ from, shift: begun - from });
  }
  return [...pieces, { from: Math.max(at, shownAgain), shift: offset }];
}

/** Before the first of these years there are no changes, and after the last one only rules. */
function clamped(year: number): number {
  return Math.min(FIRST_YEAR_OF_RULES - 1, Math.max(FIRST_YEAR_OF_CHANGES - 1, year));
}

function yearOf(instant: number): number {
  return Number.isFinite(instant)
    ? new Date(instant).getUTCFullYear()
    : instant < 0
      ? FIRST_YEAR_OF_CHANGES
      : FIRST_YEAR_OF_RULES;
}
