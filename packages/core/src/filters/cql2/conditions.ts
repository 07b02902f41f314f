import type { Interval } from "../../calendar/index.js";
import { intervalOf, type DateComparison } from "../compare.js";
import type { DateCondition, Filter, NumberBound, OrderComparison } from "../filter.js";

/** Conditions of CQL2 leave blanks out; those that want them say IS NULL beside. */
export const BLANKS = "leave" as const;

/** A comparison of a date column with a stretch, of which either end may be open. */
export function dateFilter(
  column: string,
  comparison: DateComparison,
  { start, end }: Interval,
): DateCondition {
  const side = comparison === "notOn" ? "outside" : "inside";
  // Beyond an end that is open there is nothing.
  const isNothing =
    (comparison === "after" && end === null) || (comparison === "before" && start === null);
  const interval =
    start !== null && end !== null
      ? intervalOf(comparison, { start, end })
      : { start: openStart(comparison, start, end), end: openEnd(comparison, start, end) };
  return {
    kind: "date",
    column,
    side,
    intervals: isNothing ? [] : [interval],
    recurring: [],
    blanks: BLANKS,
  };
}

function openStart(comparison: DateComparison, start: Interval["start"], end: Interval["end"]) {
  if (comparison === "after") return end;
  return comparison === "before" || comparison === "to" ? null : start;
}

function openEnd(comparison: DateComparison, start: Interval["start"], end: Interval["end"]) {
  if (comparison === "before") return start;
  return comparison === "after" || comparison === "from" ? null : end;
}

/** A condition of plain stretches, which can be put together with another. */
export function isPlainDate(filter: Filter): filter is DateCondition {
  return filter.kind === "date" && filter.recurring.length === 0;
}

/** What lies in both of two stretches. */
export function crossed(from: DateCondition, to: DateCondition): readonly Interval[] {
  const [first, second] = [from.intervals[0], to.intervals[0]];
  return first === undefined || second === undefined
    ? []
    : [{ start: first.start, end: second.end }];
}

/** A comparison of a column of numbers. */
export function numberFilter(column: string, comparison: OrderComparison, value: string): Filter {
  const bound = (isIn: boolean): NumberBound => ({ value, isIn });
  const [least, most] = {
    "=": [bound(true), bound(true)],
    "<>": [bound(true), bound(true)],
    "<": [null, bound(false)],
    "<=": [null, bound(true)],
    ">": [bound(false), null],
    ">=": [bound(true), null],
  }[comparison] as [NumberBound | null, NumberBound | null];
  const side = comparison === "<>" ? "outside" : "inside";
  return { kind: "number", column, side, least, most, blanks: BLANKS };
}
