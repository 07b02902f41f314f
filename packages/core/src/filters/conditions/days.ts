import { MS_PER_DAY } from "../../calendar/index.js";
import type { Catalogue } from "../columns.js";
import { cellOf, kindOf, type ConditionKind, type Row, type Side } from "./common.js";
import { pairFaults } from "./faults.js";

/**
 * A condition on the whole days from one date column to another of the same kind: calendar days
 * between days and wall-clock times, elapsed ones of 24 hours between instants.
 */
export interface DaysCondition {
  readonly kind: "days";
  readonly from: string;
  readonly to: string;
  readonly side: Side;
  readonly least: number | null;
  readonly most: number | null;
}

export const DAYS: ConditionKind<DaysCondition> = {
  columns: ({ from, to }) => [from, to],
  faults: ({ from, to }, catalogue) => pairFaults(from, to, catalogue),
  holds: daysHold,
  words: daysInWords,
};

function daysHold(condition: DaysCondition, row: Row, catalogue: Catalogue): boolean {
  const { from, to, least, most, side } = condition;
  const [first, second] = [cellOf(row, from), cellOf(row, to)];
  if (first.state !== "dated" || second.state !== "dated") return false;
  const days =
    kindOf(from, catalogue) === "instant"
      ? Math.trunc((second.ms - first.ms) / MS_PER_DAY)
      : Math.floor(second.ms / MS_PER_DAY) - Math.floor(first.ms / MS_PER_DAY);
  const isInside = (least === null || days >= least) && (most === null || days <= most);
  return isInside === (side === "inside");
}

function daysInWords({ from, to, side, least, most }: DaysCondition): string {
  const not = side === "outside" ? "not " : "";
  const days = (count: number) => `${count} ${count === 1 ? "day" : "days"}`;
  const size =
    least !== null && least === most
      ? days(least)
      : [
          least === null ? null : `at least ${days(least)}`,
          most === null ? null : `at most ${days(most)}`,
        ]
          .filter((each) => each !== null)
          .join(" and ");
  return `${not}${size === "" ? "any number of days" : size} from ${from} to ${to}`;
}
