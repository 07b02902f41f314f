import {
  MS_PER_DAY,
  dayOf,
  isoDay,
  isoWall,
  wallMs,
  type Span,
  type WallMs,
} from "../calendar/index.js";
import {
  COMPARISON_WORDS,
  filterInWords,
  type BlankPolicy,
  type ColumnNaming,
  type DateComparison,
} from "../filters/index.js";
import type { WrittenDate } from "../reading/index.js";
import {
  dateInWords,
  endInWords,
  intervalInWords,
  partText,
  partsOf,
  periodInWords,
  unitLength,
  wallInWords,
  windowPeriodInWords,
  windowText,
  writtenEndInWords,
  writtenStartInWords,
  type Part,
  type Window,
} from "../windows/index.js";
import type { DateTest, Query } from "./query.js";
import type { ResolvedDateQuery, ResolvedQuery } from "./resolve.js";
import type { ResolvedDates } from "./resolve-dates.js";

/**
 * A query in words: each condition with its column, groups in brackets. Dates that move with the
 * clock are those of the moment, with how they were written.
 *
 * @example queryInWords(query, resolved) // "raised from 8 May 2026 (day-7) and not status is “open”"
 */
export function queryInWords(
  query: Query,
  resolved: ResolvedQuery,
  naming: ColumnNaming = (column) => column,
): string {
  return inWords(query, { resolved, naming }, false);
}

interface WordsContext {
  readonly resolved: ResolvedQuery;
  readonly naming: ColumnNaming;
}

function inWords(query: Query, context: WordsContext, isInner: boolean): string {
  const { resolved, naming } = context;
  switch (query.kind) {
    case "all":
    case "any": {
      const [only] = query.of;
      if (only === undefined) return query.kind === "all" ? "every record" : "no record";
      if (query.of.length === 1) return inWords(only, context, isInner);
      const word = query.kind === "all" ? " and " : " or ";
      const words = query.of.map((each) => inWords(each, context, true)).join(word);
      return isInner ? `(${words})` : words;
    }
    case "not":
      return otherSideInWords(query.of, naming) ?? `not ${inWords(query.of, context, true)}`;
    case "derived":
      return filterInWords(query.condition, naming);
    case "date": {
      const found = resolved.dates.find((each) => each.query === query);
      const name = naming(query.column);
      return found === undefined ? name : shortDateWords(found, name);
    }
    default: {
      const filter = resolved.filters.get(query);
      return filter === undefined ? "" : filterInWords(filter, naming);
    }
  }
}

/** The negation of a condition on values: "status none of …" rather than "not status one of …". */
function otherSideInWords(query: Query, naming: ColumnNaming): string | null {
  if (query.kind !== "value" && query.kind !== "derived") return null;
  if (!("side" in query.condition)) return null;
  const side = query.condition.side === "inside" ? "outside" : "inside";
  return filterInWords({ ...query.condition, side }, naming);
}

const BLANK_WORDS: Record<BlankPolicy, string> = {
  exclude: "blank dates excluded",
  include: "blank dates included",
  only: "blank dates only",
};

/** A condition on dates in full: its column, both ends, the zone where it counts, the blanks. */
export function dateWords(resolved: ResolvedDateQuery, named: string, zone: string): string {
  const { blanks } = resolved.query;
  if (blanks === "only") return `${named} blank`;
  const inZone = resolved.kind === "date" ? "" : `, ${zone}`;
  return `${named} ${testsInWords(resolved)}${inZone}, ${BLANK_WORDS[blanks]}`;
}

/** A condition on dates short enough to stand among others; blanks are named where they are included. */
export function shortDateWords(resolved: ResolvedDateQuery, named: string): string {
  const { blanks } = resolved.query;
  if (blanks === "only") return `${named} blank`;
  return `${named} ${testsInWords(resolved)}${blanks === "include" ? ", or blank" : ""}`;
}

function testsInWords({ tests, query: { named } }: ResolvedDateQuery): string {
  const [only] = tests;
  if (named !== undefined && only !== undefined && tests.length === 1) {
    return namedInWords(named, only);
  }
  return tests.map(testInWords).join(" or ") || "nothing";
}

/** A window by its name, and the period that it is at the moment: `last month (January 2025)`. */
function namedInWords(name: string, resolved: ResolvedDates): string {
  const { applied, intervals, recurring } = resolved;
  const [interval] = intervals;
  const isOne = intervals.length === 1 && recurring.length === 0 && interval !== undefined;
  const period = isOne
    ? periodInWords(interval).text
    : windowPeriodInWords(applied.kind === "window" ? applied.window : null, periodOf(resolved));
  const isNegative = applied.kind !== "between" && applied.comparison === "notOn";
  return `${isNegative ? "not " : ""}${name.replaceAll(/[-_]/g, " ")} (${period})`;
}

function testInWords(resolved: ResolvedDates): string {
  const { applied, spans } = resolved;
  switch (applied.kind) {
    case "part":
      return partInWords(applied.comparison, applied.part, spans[0] ?? null);
    case "between":
      return betweenInWords(applied, spans);
    case "window": {
      const { comparison, window } = applied;
      const words = windowPeriodInWords(window, periodOf(resolved));
      const named = comparison === "notOn" ? `not ${words}` : words;
      return isFixed(window) ? named : `${named} (${windowText(window)})`;
    }
  }
}

/** What a test comes to, as windows are put into words. */
function periodOf({ intervals, recurring, ranges = [] }: ResolvedDates) {
  const rules = recurring.map(({ interval, rules: each }) => ({ interval, recurring: each }));
  return { intervals, recurring: rules, ranges };
}

function isFixed({ alternatives }: Window): boolean {
  return alternatives
    .flatMap(({ range }) => partsOf(range))
    .every(({ base }) => base.kind === "written");
}

/** A written date; of one that moves, what it covers at the moment and how it was written. */
function partInWords(comparison: DateComparison, part: Part, span: Span | null): string {
  if (isPlain(part)) return comparisonInWords(comparison, part.base.written);
  const text = partText(part.base, part.shifts);
  if (isNow(part)) return `${COMPARISON_WORDS[comparison]} now`;
  if (span === null) return `${COMPARISON_WORDS[comparison]} ${text}, which is nothing`;
  return `${spanInWords(comparison, span)} (${text})`;
}

type PlainPart = Part & { readonly base: { readonly kind: "written" } };

function isPlain(part: Part): part is PlainPart {
  return part.base.kind === "written" && part.shifts.length === 0;
}

function isNow({ base, shifts }: Part): boolean {
  return base.kind === "now" && shifts.length === 0;
}

/** Two ends in words: the days from one to the other, or each end where it is a time or moves as the clock does. */
function betweenInWords(
  test: Extract<DateTest, { readonly kind: "between" }>,
  [first = null, second = null]: ResolvedDates["spans"],
): string {
  const { start, end } = test;
  const isMoving = !isPlain(start.part) || !isPlain(end.part);
  const notation = isMoving ? ` (${canonicalTest(test)})` : "";
  if (first === null || second === null) return `nothing${notation}`;
  const hasOffset = [start.part, end.part].some(
    (part) => isPlain(part) && part.base.written.offset !== null,
  );
  if (hasOffset || isNow(start.part) || isNow(end.part)) {
    const ends = [
      endOfTest(start.comparison, start.part, first),
      endOfTest(end.comparison, end.part, second),
    ];
    return `${ends.join(", ")}${notation}`;
  }
  const interval = {
    start: start.comparison === "from" ? first.start : first.end,
    end: end.comparison === "to" ? second.end : second.start,
  };
  return `${intervalInWords(interval)}${notation}`;
}

function endOfTest(comparison: DateComparison, part: Part, span: Span): string {
  if (isPlain(part)) return comparisonInWords(comparison, part.base.written);
  if (isNow(part)) return `${comparison === "to" ? "until" : comparison} now`;
  return spanInWords(comparison, span);
}

function spanInWords(comparison: DateComparison, span: Span): string {
  const { start, end } = span;
  switch (comparison) {
    case "on":
    case "notOn": {
      const { preposition, text } = periodInWords(span);
      return `${comparison === "on" ? "" : "not "}${preposition}${text}`;
    }
    case "from":
    case "before":
      return `${comparison} ${wallInWords(start.wall)}`;
    case "to":
      return endInWords(end.wall);
    case "after":
      return afterInWords(end.wall);
  }
}

/** After all of a day, or from a time on. */
function afterInWords(wall: WallMs): string {
  return wall % MS_PER_DAY === 0
    ? `after ${wallInWords(wallMs(wall - MS_PER_DAY))}`
    : `from ${wallInWords(wall)}`;
}

function comparisonInWords(comparison: DateComparison, written: WrittenDate): string {
  switch (comparison) {
    case "from":
      return `from ${writtenStartInWords(written)}`;
    case "to":
      return writtenEndInWords(written);
    case "on":
      return `${isLong(written) ? "in" : "on"} ${dateInWords(written)}`;
    case "notOn":
      return `not ${isLong(written) ? "in" : "on"} ${dateInWords(written)}`;
    case "after":
    case "before":
      return `${COMPARISON_WORDS[comparison]} ${dateInWords(written)}`;
  }
}

/** A date is in a week, a month or a year, and on a day. */
function isLong({ precision }: WrittenDate): boolean {
  return ["year", "quarter", "month", "week"].includes(precision);
}

/** The notation of the window that a test describes; of `notOn` a window, what is excluded. */
export function canonicalTest(test: DateTest): string {
  switch (test.kind) {
    case "window":
      return windowText(test.window);
    case "part":
      return canonicalPart(test.comparison, test.part);
    case "between": {
      const { start, end } = test;
      const from = start.comparison === "from" ? textOf(start.part) : next(start.part);
      const to = end.comparison === "to" ? textOf(end.part) : previous(end.part);
      return `${from}/${to}`;
    }
  }
}

/** The window of a comparison with one written date. */
export function canonicalPart(comparison: DateComparison, part: Part): string {
  const text = textOf(part);
  switch (comparison) {
    case "on":
      return text;
    case "notOn":
      return `../${previous(part)}|${next(part)}/..`;
    case "from":
      return `${text}/..`;
    case "to":
      return `../${text}`;
    case "after":
      return `${next(part)}/..`;
    case "before":
      return `../${previous(part)}`;
  }
}

function textOf({ base, shifts }: Part): string {
  return partText(base, shifts);
}

/** The part that begins where another ends. */
function next(part: Part): string {
  const { base, shifts } = part;
  if (base.kind === "written" && shifts.length === 0) return firstAfter(base.written);
  return neighbour(part, 1);
}

/** The part that ends where another begins. */
function previous(part: Part): string {
  const { base, shifts } = part;
  if (base.kind === "written" && shifts.length === 0) return lastBefore(base.written);
  return neighbour(part, -1);
}

/** A part of a unit is followed by the same of the next unit; what has no length by itself. */
function neighbour(part: Part, sign: 1 | -1): string {
  const { base, shifts } = part;
  const duration = unitLength(part);
  if (duration === null) return partText(base, shifts);
  if (base.kind === "unit" && base.nth === null && base.unit !== "workday" && shifts.length === 0) {
    return partText({ ...base, offset: base.offset + sign }, []);
  }
  return partText(base, [...shifts, { sign, duration }]);
}

function firstAfter({ end, offset, canonical }: WrittenDate): string {
  const isDay = end % MS_PER_DAY === 0 && offset === null;
  return isDay ? isoDay(dayOf(end)) : isoWall(end) + offsetOf(canonical, offset);
}

function lastBefore({ start, offset, canonical }: WrittenDate): string {
  const isDay = start % MS_PER_DAY === 0 && offset === null;
  if (isDay) return isoDay(dayOf(start) - 1);
  return isoWall(wallMs(start - 1)) + offsetOf(canonical, offset);
}

function offsetOf(canonical: string, offset: number | null): string {
  return offset === null ? "" : (/(?:Z|[+-]\d\d:\d\d)$/.exec(canonical)?.[0] ?? "");
}
