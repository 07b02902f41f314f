import {
  type DateCondition,
  type NumberBound,
  type NumberCondition,
  edgeValue,
} from "./conditions/index.js";
import type { Edge, Interval } from "../calendar/index.js";
import type { DateKind } from "../reading/index.js";
import { holdsNumbers, type Catalogue } from "./columns.js";
import { compareDecimals } from "./decimal.js";
import { EVERYTHING, NOTHING, isEverything, isNothing, type Filter } from "./filter.js";
import { pushNegation, type PlainFilter } from "./normalise.js";
import { filterInWords } from "./sentence.js";

/** A filter that keeps the same records, and why parts of it can keep none. */
export interface SimplifiedFilter {
  readonly filter: Filter;
  /** In words, for each group of conditions that exclude one another. */
  readonly contradictions: readonly string[];
}

/**
 * Makes a filter simpler without changing what it keeps: groups within groups of the same kind are
 * one, bounds on one column that must all hold are one, and what can keep nothing is nothing.
 */
export function simplify(filter: Filter, columns: Catalogue): SimplifiedFilter {
  const contradictions: string[] = [];
  const simple = simplified(pushNegation(filter), columns, contradictions);
  return { filter: simple, contradictions };
}

function simplified(filter: PlainFilter, columns: Catalogue, contradictions: string[]): Filter {
  switch (filter.kind) {
    case "all":
    case "any": {
      const { kind } = filter;
      const parts = filter.of
        .map((each) => simplified(each, columns, contradictions))
        .flatMap((each) => (each.kind === kind ? each.of : [each]));
      return kind === "all" ? all(parts, columns, contradictions) : any(parts);
    }
    case "state": {
      const { is, ...state } = filter;
      return is ? state : { kind: "not", of: state };
    }
    case "date":
      return isEmpty(filter) ? NOTHING : filter;
    case "number":
      return isEmptyRange(filter) ? NOTHING : filter;
    case "oneOf":
      return filter.values.length === 0 && filter.side === "inside" && filter.blanks === "exclude"
        ? NOTHING
        : filter;
    default:
      return filter;
  }
}

function any(parts: readonly Filter[]): Filter {
  if (parts.some(isEverything)) return EVERYTHING;
  const [only] = parts;
  return only !== undefined && parts.length === 1 ? only : { kind: "any", of: parts };
}

function all(parts: readonly Filter[], columns: Catalogue, contradictions: string[]): Filter {
  if (parts.some(isNothing)) return NOTHING;
  const merged: Filter[] = [];
  for (const part of parts) {
    const place = merged.findIndex((each) => mergedPair(each, part, columns) !== null);
    const found = place < 0 ? null : mergedPair(merged[place] ?? EVERYTHING, part, columns);
    if (found === null) merged.push(part);
    else if (isNothing(found)) {
      const pair = [merged[place] ?? EVERYTHING, part].map((each) => filterInWords(each));
      contradictions.push(`nothing can be ${pair.join(" and also ")}`);
      return NOTHING;
    } else merged[place] = found;
  }
  const [only] = merged;
  return only !== undefined && merged.length === 1 ? only : { kind: "all", of: merged };
}

/** Two conditions on one column as one, where that can be said; null where it cannot. */
function mergedPair(first: Filter, second: Filter, columns: Catalogue): Filter | null {
  if (isBoundedDate(first) && isBoundedDate(second) && first.column === second.column) {
    const column = columns.get(first.column);
    if (column?.type !== "date") return null;
    // Rules of both sides would have to hold together, which no one condition says.
    if (first.recurring.length > 0 && second.recurring.length > 0) return null;
    const crossing = (a: Interval, b: Interval) => crossed(a, b, column.kind) ?? [];
    const intervals = first.intervals.flatMap((a) =>
      second.intervals.flatMap((b) => crossing(a, b)),
    );
    const plain = first.recurring.length === 0 ? first.intervals : second.intervals;
    const recurring = [...first.recurring, ...second.recurring].flatMap((span) =>
      plain.flatMap((each) =>
        [crossing(span.interval, each)].flat().map((interval) => ({ ...span, interval })),
      ),
    );
    const isNone = intervals.length + recurring.length === 0;
    return isNone ? NOTHING : { ...first, intervals, recurring };
  }
  if (isBoundedNumber(first) && isBoundedNumber(second) && first.column === second.column) {
    if (!holdsNumbers(columns.get(first.column))) return null;
    const both = {
      ...first,
      least: tighter(first.least, second.least, 1),
      most: tighter(first.most, second.most, -1),
    };
    return isEmptyRange(both) ? NOTHING : both;
  }
  const isBoolean = first.kind === "boolean" && second.kind === "boolean";
  if (isBoolean && first.column === second.column && first.blanks === second.blanks) {
    if (first.side === second.side || first.blanks === "only") return first;
    return first.blanks === "exclude" ? NOTHING : null;
  }
  return null;
}

function isBoundedDate(filter: Filter): filter is DateCondition {
  return filter.kind === "date" && filter.side === "inside" && filter.blanks === "exclude";
}

function isBoundedNumber(filter: Filter): filter is NumberCondition {
  return filter.kind === "number" && filter.side === "inside" && filter.blanks === "exclude";
}

function crossed(a: Interval, b: Interval, kind: DateKind): Interval | null {
  const later = (x: Edge | null, y: Edge | null) =>
    x === null || (y !== null && edgeValue(y, kind) > edgeValue(x, kind)) ? y : x;
  const earlier = (x: Edge | null, y: Edge | null) =>
    x === null || (y !== null && edgeValue(y, kind) < edgeValue(x, kind)) ? y : x;
  const [start, end] = [later(a.start, b.start), earlier(a.end, b.end)];
  const hasLength = start === null || end === null || edgeValue(start, kind) < edgeValue(end, kind);
  return hasLength ? { start, end } : null;
}

/** The bound that lets less through; of two at one value the one that leaves it out. */
function tighter(a: NumberBound | null, b: NumberBound | null, sign: 1 | -1): NumberBound | null {
  if (a === null || b === null) return a ?? b;
  const order = compareDecimals(a.value, b.value) * sign;
  if (order === 0) return a.isIn ? b : a;
  return order > 0 ? a : b;
}

function isEmpty({ intervals, recurring, side, blanks }: DateCondition): boolean {
  return side === "inside" && blanks === "exclude" && intervals.length + recurring.length === 0;
}

function isEmptyRange({ least, most, side, blanks }: NumberCondition): boolean {
  if (side === "outside" || blanks !== "exclude" || least === null || most === null) return false;
  const order = compareDecimals(least.value, most.value);
  return order > 0 || (order === 0 && !(least.isIn && most.isIn));
}
