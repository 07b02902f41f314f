import { cellOf, type ConditionKind, type Row, type Side } from "./common.js";
import { pairFaults } from "./faults.js";

const MS_PER_HOUR = 3_600_000;

/** A condition on the hours from one date column to another of the same kind, parts of hours counted. */
export interface HoursCondition {
  readonly kind: "hours";
  readonly from: string;
  readonly to: string;
  readonly side: Side;
  readonly comparison: "<" | "<=" | ">" | ">=";
  readonly hours: number;
}

export const HOURS: ConditionKind<HoursCondition> = {
  columns: ({ from, to }) => [from, to],
  faults: ({ from, to }, catalogue) => pairFaults(from, to, catalogue),
  holds: hoursHold,
  words: ({ from, to, side, comparison, hours }) =>
    `${side === "outside" ? "not " : ""}${comparison} ${hours} h from ${from} to ${to}`,
};

function hoursHold({ from, to, side, comparison, hours }: HoursCondition, row: Row): boolean {
  const [first, second] = [cellOf(row, from), cellOf(row, to)];
  if (first.state !== "dated" || second.state !== "dated") return false;
  const over = second.ms - first.ms - hours * MS_PER_HOUR;
  const holds = { "<": over < 0, "<=": over <= 0, ">": over > 0, ">=": over >= 0 }[comparison];
  return holds === (side === "inside");
}
