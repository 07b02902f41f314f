export { endlessColumns, laidOut, type ColumnExtent } from "./bound.js";
export { checkFilter } from "./check.js";
export {
  COLUMN_TYPES,
  dateColumnFault,
  type Catalogue,
  type Column,
  type ColumnType,
  type DateColumn,
} from "./columns.js";
export {
  COMPARISON_WORDS,
  DATE_COMPARISONS,
  compareDates,
  intervalOf,
  type DateComparison,
} from "./compare.js";
export { evaluate, face, type Row } from "./evaluate.js";
export {
  BLANK_POLICIES,
  EVERYTHING,
  type BlankPolicy,
  type DateCondition,
  type Filter,
  type RecurringStretch,
  type StateCondition,
} from "./filter.js";
export { pushNegation, type NegatableState, type PlainFilter } from "./normalise.js";
