import {
  valueHolds,
  withBlanks,
  type BlankPolicy,
  type ConditionKind,
  type Side,
} from "./common.js";
import { typeFault } from "./faults.js";

/** A condition on a column of yes and no: `inside` keeps yes, `outside` no. */
export interface BooleanCondition {
  readonly kind: "boolean";
  readonly column: string;
  readonly side: Side;
  readonly blanks: BlankPolicy;
}

export const BOOLEAN: ConditionKind<BooleanCondition> = {
  columns: ({ column }) => [column],
  faults: ({ column }, catalogue) => [
    typeFault(column, ["boolean"], "column.notBoolean", catalogue),
  ],
  holds: (condition, row) => valueHolds(condition, row, (value) => value === "true"),
  words: (condition) => withBlanks(condition, condition.side === "inside" ? "yes" : "no"),
};
