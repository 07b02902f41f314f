import { MS_PER_DAY } from "../../calendar/index.js";
import type { PartialPolicy } from "../../reading/index.js";
import type { Catalogue } from "../columns.js";
import { cellOf, kindOf, msOf, withoutValue, type ConditionKind } from "./common.js";
import { DATE, edgeValue, type DateCondition } from "./date.js";

/**
 * A condition on a column that has months and years without a day: they satisfy it where all of their days do, with
 * `inside`, or where any of them does, with `overlaps`. A whole day satisfies it as any date does.
 *
 * The intervals are apart, so that all days of a date lie in one of them or not all in any. Windows whose rules cannot
 * be listed as intervals are refused before.
 */
export interface PartialCondition {
  readonly kind: "partial";
  readonly policy: Exclude<PartialPolicy, "start">;
  readonly dates: DateCondition;
}

/** A condition on a column of dates as the column has it: with its policy for dates without a day, if any. */
export function forColumn(
  dates: DateCondition,
  columns: Catalogue,
): DateCondition | PartialCondition {
  const column = columns.get(dates.column);
  const policy = column?.type === "date" ? column.partial : undefined;
  return policy === undefined ? dates : { kind: "partial", policy, dates };
}

export const PARTIAL: ConditionKind<PartialCondition> = {
  columns: ({ dates }) => DATE.columns(dates),
  faults: ({ dates }, catalogue) => DATE.faults(dates, catalogue),
  holds: ({ dates, policy }, row, catalogue) => {
    const cell = cellOf(row, dates.column);
    const known = withoutValue(cell, dates.blanks);
    if (known !== null) return known;
    if (cell.state !== "dated" || cell.last === undefined) return DATE.holds(dates, row, catalogue);
    const kind = kindOf(dates.column, catalogue);
    const [first, end] = [msOf(cell), cell.last + MS_PER_DAY];
    const isInside = dates.intervals.some((interval) => {
      const from = interval.start === null ? -Infinity : edgeValue(interval.start, kind);
      const to = interval.end === null ? Infinity : edgeValue(interval.end, kind);
      // What has no length has nothing in it.
      if (from >= to) return false;
      return policy === "inside" ? first >= from && end <= to : first < to && end > from;
    });
    return isInside === (dates.side === "inside");
  },
  words: ({ dates, policy }) =>
    `${DATE.words(dates)} (a date without a day where ${policy === "inside" ? "all of its days are" : "any of its days is"})`,
};
