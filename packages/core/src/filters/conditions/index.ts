import { BOOLEAN, type BooleanCondition } from "./boolean.js";
import { COLUMNS, type ColumnsCondition } from "./columns.js";
import type { ConditionKind } from "./common.js";
import { DATE, type DateCondition } from "./date.js";
import { DAYS, type DaysCondition } from "./days.js";
import { NUMBER, type NumberCondition } from "./number.js";
import { ONE_OF, type OneOfCondition } from "./one-of.js";
import { OVERLAP, type OverlapCondition } from "./overlap.js";
import { PARTIAL, forColumn, type PartialCondition } from "./partial.js";
import { STATE, type StateCondition } from "./state.js";
import { TEXT, type TextCondition } from "./text.js";

/** A condition on one record: each kind in a file of its own. */
export type Condition =
  | DateCondition
  | PartialCondition
  | NumberCondition
  | TextCondition
  | OneOfCondition
  | BooleanCondition
  | OverlapCondition
  | DaysCondition
  | ColumnsCondition
  | StateCondition;

const KINDS: {
  readonly [Kind in Condition["kind"]]: ConditionKind<Extract<Condition, { readonly kind: Kind }>>;
} = {
  date: DATE,
  partial: PARTIAL,
  number: NUMBER,
  text: TEXT,
  oneOf: ONE_OF,
  boolean: BOOLEAN,
  overlap: OVERLAP,
  days: DAYS,
  columns: COLUMNS,
  state: STATE,
};

/** What there is to know of the kind of a condition. */
export function kindOfCondition(condition: Condition): ConditionKind<Condition> {
  return KINDS[condition.kind] as ConditionKind<Condition>;
}

export {
  BLANK_POLICIES,
  type BlankPolicy,
  type FilledCell,
  type Row,
  type Side,
} from "./common.js";
export { textTest } from "./one-of.js";
export { ORDER_COMPARISONS, type ColumnsCondition, type OrderComparison } from "./columns.js";
export { forColumn };
export { edgeValue, type DateCondition, type RecurringSpan } from "./date.js";
export { FILTER_LIMITS, edgeFaults } from "./faults.js";
export type { NumberBound, NumberCondition } from "./number.js";
export type {
  BooleanCondition,
  DaysCondition,
  OneOfCondition,
  OverlapCondition,
  PartialCondition,
  StateCondition,
  TextCondition,
};
