import { MS_PER_DAY, dayOf, isoDay, isoWall, wallMs, type Span } from "../calendar/index.js";
import {
  COMPARISON_WORDS,
  filterInWords,
  type BlankPolicy,
  type DateComparison,
} from "../filters/index.js";
import type { WrittenDate } from "../reading/index.js";
import {
  dateInWords,
  edgeInWords,
  endInWords,
  intervalInWords,
  partText,
  partsOf,
  startInWords,
  stretchesInWords,
  unitLength,
  windowText,
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
export function queryInWords(query: Query, resolved: ResolvedQuery): string {
  return inWords(query, resolved, false);
}

function inWords(query: Query, resolved: ResolvedQuery, isInner: boolean): string {
  switch (query.kind) {
    case "all":
    case "any": {
      const [only] = query.of;
      if (only === undefined) return query.kind === "all" ? "every record" : "no record";
      if (query.of.length === 1) return inWords(only, resolved, isInner);
      const word = query.kind === "all" ? " and " : " or ";
      const words = query.of.map((each) => inWords(each, resolved, true)).join(word);
      return isInner ? `(${words})` : words;
    }
    case "not":
      return otherSideInWords(query.of) ?? `not ${inWords(query.of, resolved, true)}`;
    case "derived":
      return filterInWords(query.condition);
    case "date": {
      const found = resolved.dates.find((each) => each.query === query);
      return found === undefined ? query.column : shortDateWords(found, query.column);
    }
    default: {
      const filter = resolved.filters.get(query);
      return filter === undefined ? "" : filterInWords(filter);
    }
  }
}

/** The negation of a condition on values: "status none of …" rather than "not status one of …". */
function otherSideInWords(query: Query): string | null {
  if (query.kind !== "value" && query.kind !== "derived") return null;
  if (!("side" in query.condition)) return null;
  const side = query.condition.side === "inside" ? "outside" : "inside";
  return filterInWords({ ...query.condition, side });
}

const BLANK_WORDS: Record<BlankPolicy, string> = {
  exclude: "blank and unreadable dates left out",
  include: "blanks kept, unreadable dates left out",
  only: "blanks only",
};

/** A condition on dates in full: its column, both ends, the zone, the blanks. */
export function dateWords(resolved: ResolvedDateQuery, zone: string): string {
  const { column, blanks } = resolved.query;
  if (blanks === "only") return `${column} blank`;
  return `${column} ${testsInWords(resolved)}, ${zone}, ${BLANK_WORDS[blanks]}`;
}

/** A condition on dates short enough to stand among others; blanks are named where they are in. */
export function shortDateWords(resolved: ResolvedDateQuery, named: string): string {
  const { blanks } = resolved.query;
  if (blanks === "only") return `${named} blank`;
  return `${named} ${testsInWords(resolved)}${blanks === "include" ? ", or blank" : ""}`;
}

function testsInWords({ tests }: ResolvedDateQuery): string {
  return tests.map(testInWords).join(" or ") || "nothing";
}

function testInWords({ applied, spans, intervals, recurring }: ResolvedDates): string {
  const [first = null, second = null] = spans;
  switch (applied.kind) {
    case "part":
      return partInWords(applied.comparison, applied.part, first);
    case "between": {
      const { start, end } = applied;
      const ends = [
        partInWords(start.comparison, start.part, first),
        partInWords(end.comparison, end.part, second),
      ];
      return ends.join(" ");
    }
    case "window": {
      const { comparison, window } = applied;
      const rules = recurring.map(({ interval, rules: each }) => ({ interval, recurring: each }));
      const stretches = stretchesInWords({ intervals, recurring: rules });
      const words = comparison === "notOn" ? `not ${stretches}` : stretches;
      return isFixed(window) ? words : `${words} (${windowText(window)})`;
    }
  }
}

function isFixed({ alternatives }: Window): boolean {
  return alternatives
    .flatMap(({ range }) => partsOf(range))
    .every(({ base }) => base.kind === "written");
}

/** A written date; of one that moves, what it covers at the moment and how it was written. */
function partInWords(comparison: DateComparison, part: Part, span: Span | null): string {
  if (part.base.kind === "written" && part.shifts.length === 0) {
    return comparisonInWords(comparison, part.base.written);
  }
  const text = partText(part.base, part.shifts);
  if (part.base.kind === "now" && part.shifts.length === 0) {
    return `${COMPARISON_WORDS[comparison]} now`;
  }
  if (span === null) return `${COMPARISON_WORDS[comparison]} ${text}, which is nothing`;
  return `${spanInWords(comparison, span)} (${text})`;
}

function spanInWords(comparison: DateComparison, span: Span): string {
  const { start, end } = span;
  switch (comparison) {
    case "on":
      return intervalInWords(span);
    case "notOn":
      return `not ${intervalInWords(span)}`;
    case "from":
    case "before":
      return `${comparison} ${edgeInWords(start.wall, "start")}`;
    case "to":
    case "after":
      return `${comparison} ${edgeInWords(end.wall, "end")}`;
  }
}

function comparisonInWords(comparison: DateComparison, written: WrittenDate): string {
  switch (comparison) {
    case "from":
      return `from ${startInWords(written)}`;
    case "to":
      return `to ${endInWords(written)}`;
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
