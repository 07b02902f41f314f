import { MS_PER_DAY, epochMs, wallMs, type Edge, type Interval } from "../calendar/index.js";
import {
  edgeValue,
  type DateCondition,
  type Filter,
  type RecurringSpan,
} from "../filters/index.js";
import type { DateKind } from "../reading/index.js";
import type { StoredDates } from "./cells.js";
import { evenlyMoved } from "./recurring.js";
import { datesOf, type StoredTable } from "./storage.js";

/**
 * Intervals up to which a plain OR serves every purpose. Beyond, the database tests all of them
 * for each record that it counts.
 */
const FEW = 3;
/** Days of a list at most: from 1,000 on the database makes a table of them, and sorts it all. */
export const MAX_LISTED = 900;
/** Intervals of the first part of a page; each part after it has four times as many. */
const FIRST_PART = 10;
/** The same where rules recur within them: such an interval is months or years, and not a day. */
const FIRST_RECURRING = 3;

/** What a query is for: the best form differs. */
export type Purpose = "page" | "count";

/** One of the ranges of a condition: an interval, or one within which rules recur. */
export interface RangePiece {
  readonly interval: Interval;
  /** Null for a plain interval. */
  readonly span: RecurringSpan | null;
}

/** A filter that is many ranges of one column, and what else must hold. */
export interface ManyRanges {
  readonly condition: DateCondition;
  readonly dates: StoredDates;
  /** The ranges of the condition, in order and apart. */
  readonly pieces: readonly RangePiece[];
  readonly rest: readonly Filter[];
}

/**
 * The many ranges of a filter that must all hold; null for none. For a count a list of days is none:
 * it finds them all at once, where a page needs but the first.
 */
export function manyRanges(
  filter: Filter,
  table: StoredTable,
  purpose: Purpose,
): ManyRanges | null {
  const found = widest(filter, table);
  if (found === null) return null;
  const { condition, dates, pieces } = found;
  // Of values inside a record is counted once, however many intervals have one of them.
  if (isPerRecord(condition.column, table)) return null;
  const isListed =
    (purpose === "count" || !dates.keepsOrder) && listedDays(condition, dates) !== null;
  if (isListed || !areApart(pieces, dates.kind)) return null;
  const rest = conjuncts(filter).filter((each) => each !== condition);
  return { condition, dates, pieces, rest };
}

/** The ranges of a condition in order. */
export function piecesOf(
  { intervals, recurring }: DateCondition,
  kind: DateKind,
): readonly RangePiece[] {
  const plain = intervals.map((interval): RangePiece => ({ interval, span: null }));
  if (recurring.length === 0) return plain;
  const start = ({ interval }: RangePiece) =>
    interval.start === null ? -Infinity : edgeValue(interval.start, kind);
  return [...plain, ...recurring.map((span) => ({ interval: span.interval, span }))].sort(
    (a, b) => start(a) - start(b),
  );
}

/** A condition with only some of its ranges. */
export function withPieces(condition: DateCondition, pieces: readonly RangePiece[]): DateCondition {
  return {
    ...condition,
    intervals: pieces.flatMap(({ interval, span }) => (span === null ? [interval] : [])),
    recurring: pieces.flatMap(({ span }) => span ?? []),
  };
}

function isPerRecord(column: string, { nested }: StoredTable): boolean {
  return nested?.rows === "records" && nested.values.some(({ name }) => name === column);
}

/** The condition with most ranges among those that must all hold; null where none has many. */
function widest(filter: Filter, table: StoredTable): Omit<ManyRanges, "rest"> | null {
  let found: Omit<ManyRanges, "rest"> | null = null;
  for (const condition of conjuncts(filter)) {
    if (condition.kind !== "date" || !isPlain(condition)) continue;
    const dates = datesOf(condition.column, table);
    const pieces = piecesOf(evenlyParted(condition, dates), dates.kind);
    if (pieces.length > (found?.pieces.length ?? FEW)) found = { condition, dates, pieces };
  }
  return found;
}

/**
 * A condition on instants whose rules are parted where the clocks change: within a part they are a
 * test of the column moved by one offset.
 */
function evenlyParted(condition: DateCondition, { kind, isLong }: StoredDates): DateCondition {
  // Dates that are worked out at length are better compared with few intervals.
  if (kind !== "instant" || isLong === true || condition.recurring.length === 0) return condition;
  return { ...condition, recurring: condition.recurring.flatMap(evenlyMoved) };
}

/** The conditions that must all hold. */
export function conjuncts(filter: Filter): readonly Filter[] {
  return filter.kind === "all" ? filter.of.flatMap(conjuncts) : [filter];
}

function isPlain({ side, blanks }: DateCondition): boolean {
  return side === "inside" && blanks === "exclude";
}

function areApart(pieces: readonly RangePiece[], kind: DateKind): boolean {
  return pieces.every(({ interval: { start } }, index) => {
    const before = pieces[index - 1]?.interval;
    if (before === undefined) return true;
    if (before.end === null || start === null) return false;
    return edgeValue(before.end, kind) <= edgeValue(start, kind);
  });
}

/**
 * The days of the intervals of a condition, which the database finds one by one in the index; null
 * where a list is no use. Of some columns a single interval is better listed too.
 */
export function listedDays(
  { intervals, side }: DateCondition,
  dates: StoredDates,
  purpose: Purpose = "page",
): readonly number[] | null {
  if (dates.onDays([]) === null || side === "outside") return null;
  const isFew = intervals.length <= FEW;
  // A page is in the order of a single interval as it is, and stops when it is full.
  const single = dates.keepsOrder && purpose === "page" ? 0 : dates.listsUpTo;
  const most = isFew ? single : MAX_LISTED;
  const days = new Set<number>();
  for (const { start, end } of intervals) {
    if (start === null || end === null) return null;
    const [first, last] = [start, end].map((edge) => edgeValue(edge, dates.kind) / MS_PER_DAY);
    if (first === undefined || last === undefined || last - first > most) return null;
    for (let day = Math.ceil(first); day < last; day++) days.add(day);
    if (days.size > most) return null;
  }
  return [...days];
}

/**
 * The ranges in the order of a page, in parts of which the first few most often fill it: those that
 * lie before its place are omitted.
 */
export function partsOf(
  { pieces, dates }: ManyRanges,
  descending: boolean,
  after: string | number | null,
): readonly (readonly RangePiece[])[] {
  const first = pieces.some(({ span: interval }) => interval !== null)
    ? FIRST_RECURRING
    : FIRST_PART;
  return partsInOrder(pieces, dates, { descending, after, first });
}

/**
 * The days of a condition on a column whose strings do not keep the order of their dates, in parts
 * for a page: the first is a day, so that few records are put in order. Null where they cannot be
 * listed.
 */
export function dayParts(
  condition: DateCondition,
  dates: StoredDates,
  descending: boolean,
  after: string | number | null,
): readonly (readonly RangePiece[])[] | null {
  const isListable = isPlain(condition) && condition.recurring.length === 0;
  const days = isListable ? listedDays(condition, dates) : null;
  if (days === null) return null;
  const each = [...days]
    .sort((a, b) => a - b)
    .map((day): RangePiece => ({ interval: dayInterval(day), span: null }));
  return partsInOrder(each, dates, { descending, after, first: 1 });
}

/** A day as an interval: a column of which days are listed has no other moment of it. */
function dayInterval(day: number): Interval {
  const edge = (ms: number): Edge => ({ wall: wallMs(ms), instant: epochMs(ms) });
  return { start: edge(day * MS_PER_DAY), end: edge((day + 1) * MS_PER_DAY) };
}

function partsInOrder(
  pieces: readonly RangePiece[],
  dates: StoredDates,
  page: { readonly descending: boolean; readonly after: string | number | null; first: number },
): readonly (readonly RangePiece[])[] {
  const { descending, after } = page;
  const ordered = descending ? [...pieces].reverse() : pieces;
  const at = after === null ? NaN : dates.msOf(after);
  const remaining = ordered.filter(
    ({ interval }) => !isBefore(interval, dates.kind, descending, at),
  );
  const parts: (readonly RangePiece[])[] = [];
  for (let from = 0, size = page.first; from < remaining.length; size *= 4) {
    parts.push(remaining.slice(from, from + size));
    from += size;
  }
  return parts;
}

/** Whether all of an interval lies before a place in the order of a page, in milliseconds. */
function isBefore(
  { start, end }: Interval,
  kind: DateKind,
  descending: boolean,
  at: number,
): boolean {
  const edge = descending ? start : end;
  if (edge === null || Number.isNaN(at)) return false;
  return descending ? edgeValue(edge, kind) > at : edgeValue(edge, kind) <= at;
}
