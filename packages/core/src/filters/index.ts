export { narrowToExtents, recurringColumns, zoneOf, type ColumnExtent } from "./narrow.js";
export { checkFilter } from "./check.js";
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
export { evaluate } from "./evaluate.js";
export { EVERYTHING, NOTHING, isEverything, isNothing, type Filter } from "./filter.js";
export { recurringSpans } from "./recurring-spans.js";
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
export { filterInWords, type ColumnNaming } from "./sentence.js";
export { simplify, type SimplifiedFilter } from "./simplify.js";
export {
  BLANK_POLICIES,
  type BlankPolicy,
  type BooleanCondition,
  type ColumnsCondition,
  type Condition,
  type DateCondition,
  type DaysCondition,
  FILTER_LIMITS,
  type FilledCell,
  type NumberBound,
  type NumberCondition,
  ORDER_COMPARISONS,
  type OneOfCondition,
  type OrderComparison,
  type OverlapCondition,
  type PartialCondition,
  type RecurringSpan,
  type Row,
  type Side,
  type StateCondition,
  type TextCondition,
  textTest,
  edgeFaults,
  edgeValue,
  forColumn,
} from "./conditions/index.js";
