import { MS_PER_DAY, type Edge, type Interval } from "../calendar/index.js";
import { edgeValue, type DateCondition, type PartialCondition } from "../filters/index.js";
import type { LastDays, StoredDates } from "./cells.js";
import { joinConditions, sql, type Fragment } from "./fragment.js";

const NOTHING = sql`1 = 0`;
const ANYTHING = sql`1 = 1`;
/** Days of a date without a day at most: a century, `19XX`. So far before a window one may begin that overlaps it. */
const LONGEST_MS = 36_525 * MS_PER_DAY;

/** Dates without a day of which all days, or any, lie in the intervals of a condition, or do not. */
export function partialIntervals(
  { intervals, side }: DateCondition,
  policy: PartialCondition["policy"],
  dates: StoredDates,
  last: LastDays,
): Fragment {
  const tested = { policy, dates, last };
  const tests = intervals.map((interval) => {
    const edges = edgesOf(interval, dates);
    const [from, to] = edges;
    // What has no length has nothing in it.
    if (from !== null && to !== null && from >= to) return side === "inside" ? NOTHING : ANYTHING;
    return side === "inside"
      ? joinConditions(inside(edges, tested), sql` AND `, ANYTHING)
      : joinConditions(outside(edges, tested), sql` OR `, NOTHING);
  });
  const found =
    side === "inside"
      ? joinConditions(tests, sql` OR `, NOTHING)
      : joinConditions(tests, sql` AND `, ANYTHING);
  return sql`(${last.isThere} AND ${found})`;
}

type Test = Fragment | "all" | "none";
/** Where an interval begins and ends, in milliseconds; null where it is open. */
type Edges = readonly [from: number | null, to: number | null];

/** What is held against an interval, and how. */
interface Tested {
  readonly policy: PartialCondition["policy"];
  readonly dates: StoredDates;
  readonly last: LastDays;
}

function inside([from, to]: Edges, { policy, dates, last }: Tested): readonly Fragment[] {
  const isWithin = policy === "inside";
  return conjunction([
    // The first day too has a bound on both sides, so that its index finds a range.
    from === null ? "all" : dates.from(isWithin ? from : from - LONGEST_MS),
    to === null ? "all" : dates.before(to),
    from === null || isWithin ? "all" : last.from(from),
    to === null || !isWithin ? "all" : last.before(to),
  ]);
}

function outside([from, to]: Edges, { policy, dates, last }: Tested): readonly Fragment[] {
  const isWithin = policy === "inside";
  return disjunction([
    from === null ? "none" : (isWithin ? dates : last).before(from),
    to === null ? "none" : (isWithin ? last : dates).from(to),
  ]);
}

/** On a column of days an edge is rounded up, as it is stored. */
function edgesOf({ start, end }: Interval, { kind }: StoredDates): Edges {
  const valueAt = (edge: Edge | null) =>
    edge === null ? null : Math.ceil(edgeValue(edge, kind) / MS_PER_DAY) * MS_PER_DAY;
  return [valueAt(start), valueAt(end)];
}

function conjunction(tests: readonly Test[]): readonly Fragment[] {
  if (tests.includes("none")) return [NOTHING];
  return tests.filter((test) => typeof test !== "string");
}

function disjunction(tests: readonly Test[]): readonly Fragment[] {
  if (tests.includes("all")) return [ANYTHING];
  return tests.filter((test) => typeof test !== "string");
}
