export { bareColumn, type BareDeclared } from "./bare.js";
export type { Holding } from "./holding.js";
export { whereOf } from "./condition.js";
export { DATABASES, type Database, type Dialect } from "./dialect.js";
export { decodeMs, encodeEdge, encodeMs, type Bound } from "./encode.js";
export { render, type Fragment, type SqlValue, type Statement } from "./fragment.js";
export { MARIADB } from "./mariadb.js";
export { STATE_CODES } from "./own.js";
export { POSTGRESQL } from "./postgresql.js";
export { SQLITE } from "./sqlite.js";
export {
  BLANK_PLACES,
  countStatement,
  distinctStatement,
  extentStatement,
  neighbourStatement,
  orderKeyDdl,
  pageFields,
  pageParts,
  pageStatement,
  positionOf,
  rawTextStatement,
  recordStatement,
  unreadableStatement,
  type BlankPlace,
  type CountQuery,
  type PageFields,
  type PageQuery,
  type Position,
  type RecordOrder,
} from "./statements.js";
export {
  datesOf,
  type BareColumn,
  type OwnColumn,
  type OwnTable,
  type StoredColumn,
  type StoredTable,
} from "./storage.js";
export type { StoredDates } from "./cells.js";
export {
  DIALECTS,
  translateFilter,
  type TranslateRequest,
  type TranslatedColumn,
  type TranslatedStatement,
  type Translation,
} from "./translate.js";
