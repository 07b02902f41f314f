export { whereOf } from "./condition.js";
export { render, type Dialect, type Fragment, type SqlValue, type Statement } from "./fragment.js";
export { MARIADB } from "./mariadb.js";
export {
  BLANK_PLACES,
  countStatement,
  distinctStatement,
  extentStatement,
  neighbourStatement,
  pageFields,
  pageParts,
  pageStatement,
  rawTextStatement,
  unreadableStatement,
  type BlankPlace,
  type CountQuery,
  type PageFields,
  type PageQuery,
  type Position,
  type RecordOrder,
} from "./statements.js";
export {
  STATE_CODES,
  decodeMs,
  encodeEdge,
  encodeMs,
  type Bound,
  type StoredColumn,
  type StoredTable,
} from "./storage.js";
