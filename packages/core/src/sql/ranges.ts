import { MS_PER_DAY, isoDay, type Interval } from "../calendar/index.js";
import { face, type DateCondition, type Filter } from "../filters/index.js";
import type { DateKind } from "../reading/index.js";
import { datesOf, encodeEdge, type StoredTable } from "./storage.js";

/**
 * Stretches up to which a plain OR serves every purpose. Beyond, the database tests all of them
 * for each record that it counts.
 */
const FEW = 3;
/** Days of a list at most: from 1,000 on the database makes a table of them, and sorts it all. */
const MOST_LISTED = 900;
/** Stretches of the first part of a page; each part after it has four times as many. */
const FIRST_PART = 10;

/** A filter that is many stretches of one column, and what else must hold. */
export interface ManyRanges {
  readonly condition: DateCondition;
  readonly kind: DateKind;
  readonly rest: readonly Filter[];
}

/** The many stretches of a filter that must all hold, in order and apart; null for none. */
export function manyRanges(filter: Filter, table: StoredTable): ManyRanges | null {
  const found = widest(filter, null);
  if (found === null) return null;
  const { kind } = datesOf(found.column, table);
  if (listedDays(found, kind) !== null || !areApart(found.intervals, kind)) return null;
  return { condition: found, kind, rest: conjuncts(filter).filter((each) => each !== found) };
}

/** The condition with most stretches among those that must all hold; null where none has many. */
function widest(filter: Filter, found: DateCondition | null): DateCondition | null {
  if (filter.kind === "all") {
    return filter.of.reduce<DateCondition | null>((best, each) => widest(each, best), found);
  }
  if (filter.kind !== "date" || filter.intervals.length <= (found?.intervals.length ?? FEW)) {
    return found;
  }
  return isPlain(filter) ? filter : found;
}

function conjuncts(filter: Filter): readonly Filter[] {
  return filter.kind === "all" ? filter.of.flatMap(conjuncts) : [filter];
}

function isPlain({ side, blanks, recurring }: DateCondition): boolean {
  return side === "inside" && blanks === "leave" && recurring.length === 0;
}

function areApart(intervals: readonly Interval[], kind: DateKind): boolean {
  return intervals.every(({ start }, index) => {
    const before = intervals[index - 1];
    if (before === undefined) return true;
    if (before.end === null || start === null) return false;
    return face(before.end, kind) <= face(start, kind);
  });
}

/**
 * The days of many short stretches of a column of days, which the database finds one by one in
 * the index; null where a list is no use.
 */
export function listedDays(
  { intervals, side }: DateCondition,
  kind: DateKind,
): readonly string[] | null {
  if (kind !== "date" || side === "outside" || intervals.length <= FEW) return null;
  const days = new Set<string>();
  for (const { start, end } of intervals) {
    if (start === null || end === null) return null;
    const [first, last] = [start, end].map(({ wall }) => Math.ceil(wall / MS_PER_DAY));
    if (first === undefined || last === undefined || last - first > MOST_LISTED) return null;
    for (let day = first; day < last; day++) days.add(isoDay(day));
    if (days.size > MOST_LISTED) return null;
  }
  return [...days];
}

/**
 * The stretches in the order of a page, in parts of which the first few most often fill it:
 * those that lie before its place are left out.
 */
export function partsOf(
  { condition, kind }: ManyRanges,
  descending: boolean,
  after: string | null,
): readonly (readonly Interval[])[] {
  const ordered = descending ? [...condition.intervals].reverse() : condition.intervals;
  const left = ordered.filter((interval) => !isBefore(interval, kind, descending, after));
  const parts: (readonly Interval[])[] = [];
  for (let from = 0, size = FIRST_PART; from < left.length; size *= 4) {
    parts.push(left.slice(from, from + size));
    from += size;
  }
  return parts;
}

/** Stored dates are in the order of their texts. */
function isBefore(
  { start, end }: Interval,
  kind: DateKind,
  descending: boolean,
  after: string | null,
): boolean {
  const edge = descending ? start : end;
  const bound = edge === null || after === null ? null : encodeEdge(edge, kind);
  if (bound?.kind !== "value" || after === null) return false;
  return descending ? bound.text > after : bound.text <= after;
}
