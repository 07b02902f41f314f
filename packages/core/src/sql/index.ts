export { attachedColumn, attachedReading, type BareDeclared } from "./attached.js";
export type { DatabaseType } from "./database-type.js";
export { whereOf } from "./condition.js";
export { DATABASES, type Database, type Dialect } from "./dialect.js";
export { DIALECTS } from "./dialects.js";
export { decodeMs, encodeEdge, encodeMs, type Bound } from "./encode.js";
export type { Fragment, SqlValue, Statement } from "./fragment.js";
export { MARIADB } from "./mariadb.js";
export { STATE_CODES } from "./imported.js";
export { POSTGRESQL } from "./postgresql.js";
export { SQLITE } from "./sqlite.js";
export { compileWhere, countStatement, type WhereOptions } from "./counting.js";
export type { Purpose } from "./ranges.js";
export { readJsonPath, namesSeveral, type JsonPath } from "./json-path.js";
export {
  flattened,
  isNested,
  nestedValue,
  recordsOf,
  valueId,
  valueKey,
  withNested,
  type NestedType,
} from "./nested.js";
export { withJoin, type JoinedTable } from "./joined.js";
export {
  DATE_NUMBERS,
  computedColumn,
  withComputed,
  type Computed,
  type DateNumber,
} from "./computed.js";
export { NESTED_ROWS, type NestedRows } from "./storage.js";
export { orderKeyOf, usualBlanks } from "./order.js";
export { pageParts } from "./page-parts.js";
export { piecesOf, type RangePiece } from "./ranges.js";
export {
  BLANK_PLACES,
  type BlankPlace,
  type CountQuery,
  type PageQuery,
  type Position,
  type OrderKey,
  type RecordOrder,
} from "./page-query.js";
export { pageStatement, positionOf, type PageFields, type PageStatement } from "./page.js";
export { render } from "./render.js";
export {
  distinctStatement,
  type DistinctOptions,
  extentStatement,
  neighbourStatement,
  orderKeyDdl,
  rawTextStatement,
  recordStatement,
  unreadableStatement,
} from "./statements.js";
export {
  datesOf,
  dictionaryOf,
  storedColumn,
  storedStep,
  type AttachedColumn,
  type ImportedColumn,
  type ImportedTable,
  type StoredColumn,
  type ComputedColumn,
  type StoredTable,
} from "./storage.js";
export type { StoredDates, StoredDictionary } from "./cells.js";
export {
  MEASURES,
  PARTIALS,
  SHORT_TEXT,
  textKeys,
  groupStatement,
  keyDictionaries,
  type GroupKey,
  type GroupQuery,
  type Measure,
  type PartialColumn,
  type PartialMeasure,
  type MeasuredColumn,
} from "./summaries.js";
