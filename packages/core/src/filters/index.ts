export { narrowToExtents, recurringColumns, zoneOf, type ColumnExtent } from "./narrow.js";
export { FILTER_LIMITS, checkFilter, edgeFaults } from "./check.js";
export {
  COLUMN_TYPES,
  columnFault,
  dateColumnFault,
  holdsNumbers,
  type Catalogue,
  type Column,
  type ColumnType,
  type DateColumn,
} from "./columns.js";
export {
  COMPARISON_WORDS,
  COMPARISON_KEEPS,
  DATE_COMPARISONS,
  compareDates,
  intervalOf,
  type DateComparison,
} from "./compare.js";
export { columnsOf } from "./columns-of.js";
export { withConstants } from "./constant.js";
export { addDecimals, compareDecimals, decimalOf, divideDecimal, type Decimal } from "./decimal.js";
export { evaluate, edgeValue, type FilledCell, type Row } from "./evaluate.js";
export {
  BLANK_POLICIES,
  EVERYTHING,
  NOTHING,
  ORDER_COMPARISONS,
  isEverything,
  isNothing,
  type BlankPolicy,
  type ColumnsCondition,
  type Condition,
  type DateCondition,
  type DaysCondition,
  type Filter,
  type NumberBound,
  type NumberCondition,
  type OneOfCondition,
  type OrderComparison,
  type OverlapCondition,
  type RecurringStretch,
  type Side,
  type BooleanCondition,
  type StateCondition,
  type TextCondition,
} from "./filter.js";
export { recurringStretches } from "./stretches.js";
export { foldText, isBlankText } from "./fold.js";
export {
  TEXT_MATCHES,
  hasForm,
  patternOf,
  patternText,
  plainMatch,
  readPattern,
  type PatternPiece,
  type TextMatch,
} from "./pattern.js";
export {
  ENDS_OF,
  INTERSECTING,
  RELATIONS,
  isRelated,
  type EndsCompared,
  type Relation,
} from "./relations.js";
export { pushNegation, type NegatableState, type PlainFilter } from "./normalise.js";
export { filterInWords } from "./sentence.js";
export { simplify, type SimplifiedFilter } from "./simplify.js";
