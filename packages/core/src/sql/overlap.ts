import { MS_PER_DAY, type Edge } from "../calendar/index.js";
import {
  ENDS_OF,
  INTERSECTING,
  RELATIONS,
  edgeValue,
  type EndsCompared,
  type OverlapCondition,
  type Relation,
} from "../filters/index.js";
import type { StoredDates } from "./cells.js";
import { comparedDates, andValid } from "./compared.js";
import { sql, joinConditions, type Fragment } from "./fragment.js";

const NOTHING = sql`1 = 0`;
const ANYTHING = sql`1 = 1`;

type Comparator = -1 | 0 | 1;

/** One end of a record's interval, as it is compared. */
interface RecordEnd {
  readonly dates: StoredDates;
  /** Where a blank end lies, or null where it leaves the record out. */
  readonly open: number | null;
  /** Milliseconds from the stored value to the end: a day ends when the next begins. */
  readonly length: number;
}

/**
 * The condition that the interval between two columns lies to a window as one of some relations
 * has it. A negated one is the other relations to each interval: no `NOT`, which would keep what is
 * unknown.
 */
export function overlapCondition(
  condition: OverlapCondition,
  start: StoredDates,
  end: StoredDates,
): Fragment {
  const { intervals, relations, openStart, openEnd, side } = condition;
  const from: RecordEnd = { dates: start, open: openStart ? -Infinity : null, length: 0 };
  const length = end.kind === "date" ? MS_PER_DAY : 0;
  const to: RecordEnd = { dates: end, open: openEnd ? Infinity : null, length };
  const wanted =
    side === "inside" ? relations : RELATIONS.filter((each) => !relations.includes(each));
  const lies = intervals
    .map(({ start: first, end: last }): readonly [number, number] => [
      first === null ? -Infinity : pointOf(first, start.kind),
      last === null ? Infinity : pointOf(last, start.kind),
    ])
    .filter(([first, last]) => first < last)
    .map((window) => related(wanted, window, from, to));
  const found =
    side === "inside"
      ? joinConditions(lies, sql` OR `, NOTHING)
      : joinConditions(lies, sql` AND `, ANYTHING);
  return sql`(${span(from, to)} AND ${found})`;
}

/** Whether a record has an interval at all: both ends, and the end after the start. */
function span(from: RecordEnd, to: RecordEnd): Fragment {
  const [start, end] = [from.dates, to.dates];
  const ordered = comparedDates(end, to.length > 0 ? sql`>=` : sql`>`, start);
  const known = [
    ordered,
    ...(from.open === null ? [] : [sql`(${start.isBlank} AND ${end.isFilled})`]),
    ...(to.open === null ? [] : [sql`(${end.isBlank} AND ${start.isFilled})`]),
    ...(from.open === null || to.open === null ? [] : [sql`(${start.isBlank} AND ${end.isBlank})`]),
  ];
  return joinConditions(known, sql` OR `, NOTHING);
}

/** On a column of days an edge is rounded up, as it is stored. */
function pointOf(edge: Edge, kind: StoredDates["kind"]): number {
  const ms = edgeValue(edge, kind);
  return kind === "date" ? Math.ceil(ms / MS_PER_DAY) * MS_PER_DAY : ms;
}

function related(
  relations: readonly Relation[],
  [start, end]: readonly [number, number],
  from: RecordEnd,
  to: RecordEnd,
): Fragment {
  const ends: Readonly<Record<keyof EndsCompared, readonly [RecordEnd, number]>> = {
    startToStart: [from, start],
    startToEnd: [from, end],
    endToStart: [to, start],
    endToEnd: [to, end],
  };
  const compared = (name: keyof EndsCompared, ...comparators: readonly Comparator[]) => {
    const [recordEnd, ms] = ends[name];
    return endCondition(recordEnd, ms, comparators);
  };
  if (isSame(relations, INTERSECTING)) {
    return sql`(${compared("startToEnd", -1)} AND ${compared("endToStart", 1)})`;
  }
  if (
    isSame(
      relations,
      RELATIONS.filter((each) => !INTERSECTING.includes(each)),
    )
  ) {
    return sql`(${compared("startToEnd", 0, 1)} OR ${compared("endToStart", -1, 0)})`;
  }
  const each = relations.map((relation) =>
    joinConditions(
      (Object.entries(ENDS_OF[relation]) as [keyof EndsCompared, Comparator][]).map(
        ([name, comparator]) => compared(name, comparator),
      ),
      sql` AND `,
      ANYTHING,
    ),
  );
  return joinConditions(each, sql` OR `, NOTHING);
}

function isSame(some: readonly Relation[], others: readonly Relation[]): boolean {
  return some.length === others.length && others.every((each) => some.includes(each));
}

/** One end of a record less than, equal to or more than an edge, as some comparators have it. */
function endCondition(
  { dates, open, length }: RecordEnd,
  edge: number,
  comparators: readonly Comparator[],
) {
  const dated = Number.isFinite(edge)
    ? datedCondition(dates, edge - length, comparators)
    : comparators.includes(edge < 0 ? 1 : -1)
      ? dates.isFilled
      : NOTHING;
  if (open === null) return dated;
  const comparator: Comparator = open === edge ? 0 : open < edge ? -1 : 1;
  return comparators.includes(comparator) ? sql`(${dated} OR ${dates.isBlank})` : dated;
}

/** No relation asks for both sides of an edge without the edge itself. */
function datedCondition(
  dates: StoredDates,
  ms: number,
  comparators: readonly Comparator[],
): Fragment {
  const next = ms + (dates.kind === "date" ? MS_PER_DAY : 1);
  const [less, same, more] = ([-1, 0, 1] as const).map((comparator) =>
    comparators.includes(comparator),
  );
  const bounds =
    same === true
      ? [more === true ? null : dates.before(next), less === true ? null : dates.from(ms)]
      : [less === true ? dates.before(ms) : dates.from(next)];
  if (bounds.includes("none")) return NOTHING;
  const compared = bounds.filter((bound) => bound !== null && bound !== "all");
  return andValid(joinConditions(compared as Fragment[], sql` AND `, dates.isFilled), dates);
}
