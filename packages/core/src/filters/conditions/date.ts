import { epochMs, findZone, type Edge, type Interval } from "../../calendar/index.js";
import type { DateKind } from "../../reading/index.js";
import {
  holdsAt,
  constantOffsetWall,
  intervalsInWords,
  type Recurring,
  type WeekRules,
} from "../../windows/index.js";
import { dateColumnFault } from "../columns.js";
import {
  cellOf,
  kindOf,
  msOf,
  withBlanks,
  withoutValue,
  type BlankPolicy,
  type ConditionKind,
  type Side,
} from "./common.js";
import { edgeFaults } from "./faults.js";

/** An interval, open or closed, of which only what the recurring rules let in counts. */
export interface RecurringSpan {
  readonly interval: Interval;
  readonly rules: readonly Recurring[];
  readonly weeks: WeekRules;
  /** The IANA name of the zone in which the parts are those of days and hours. */
  readonly zone: string;
}

/**
 * A condition on one date column.
 *
 * `inside` keeps the dated values v that lie in one of the intervals, start ≤ v < end; `outside`
 * the other dated values. An open end bounds nothing, and of no intervals nothing is inside. Every
 * comparison of dates is one of the two; see {@link compareDates}.
 */
export interface DateCondition {
  readonly kind: "date";
  readonly column: string;
  readonly side: Side;
  /** In order, and apart from one another. */
  readonly intervals: readonly Interval[];
  readonly recurring: readonly RecurringSpan[];
  readonly blanks: BlankPolicy;
}

export const DATE: ConditionKind<DateCondition> = {
  columns: ({ column }) => [column],
  faults: ({ column, intervals }, catalogue) => {
    const found = dateColumnFault(column, catalogue);
    return found === null ? edgeFaults(column, intervals, catalogue) : [found];
  },
  holds: (condition, row, catalogue) => {
    const cell = cellOf(row, condition.column);
    const known = withoutValue(cell, condition.blanks);
    if (known !== null) return known;
    const ms = msOf(cell);
    const kind = kindOf(condition.column, catalogue);
    const isInside =
      condition.intervals.some((interval) => liesIn(ms, interval, kind)) ||
      condition.recurring.some((span) => recursAt(ms, span, kind));
    return isInside === (condition.side === "inside");
  },
  words: (condition) => {
    const { side, intervals, recurring } = condition;
    const words = intervalsInWords({
      intervals,
      recurring: recurring.map(({ interval, rules }) => ({ interval, recurring: rules })),
    });
    return withBlanks(condition, side === "outside" ? `not ${words}` : words);
  },
};

function liesIn(ms: number, { start, end }: Interval, kind: DateKind): boolean {
  const afterStart = start === null || ms >= edgeValue(start, kind);
  const beforeEnd = end === null || ms < edgeValue(end, kind);
  return afterStart && beforeEnd;
}

function recursAt(ms: number, span: RecurringSpan, kind: DateKind): boolean {
  const { interval, rules, weeks, zone } = span;
  if (!liesIn(ms, interval, kind)) return false;
  if (kind !== "instant") return holdsAt(rules, ms, weeks);
  const found = findZone(zone);
  if (!found.ok) throw new Error(`there is no zone ${zone}`);
  return holdsAt(rules, constantOffsetWall(epochMs(ms), found.value), weeks);
}

/** What a column of a kind is compared with at an edge, in milliseconds as in a cell of the kind. */
export function edgeValue(edge: Edge, kind: DateKind): number {
  return kind === "instant" ? edge.instant : edge.wall;
}
