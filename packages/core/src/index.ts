/**
 * The computation of Orisma for whoever embeds it: no I/O, no clock, no framework. What stands here
 * is kept; what else there is, the project's own packages take from `@orisma/core/internal`.
 */

// Expected failures and notices as data, and their words.
export {
  renderFault,
  renderNotice,
  type Fault,
  type FaultCode,
  type Notice,
  type RenderedFault,
  type RenderedNotice,
  type Result,
} from "./faults/index.js";

// Points in time, wall clocks and zones.
export {
  UTC,
  epochMs,
  findZone,
  type Edge,
  type EpochMs,
  type Interval,
  type Span,
  type Zone,
} from "./calendar/index.js";

// Stored values as dates.
export {
  DATE_ENCODINGS,
  DATE_KINDS,
  compileReading,
  readIsoDate,
  type DateKind,
  type Reading,
  type WrittenDate,
} from "./reading/index.js";

// Windows as they are written, and what they cover.
export {
  ISO_CALENDAR,
  calendarSettings,
  nextChange,
  readWindow,
  resolveSpan,
  resolveWindow,
  windowInWords,
  windowText,
  type CalendarSettings,
  type ResolvedWindow,
  type Window,
  type WindowContext,
} from "./windows/index.js";

// Conditions on records, evaluated in memory.
export {
  checkFilter,
  compareDates,
  evaluate,
  filterInWords,
  simplify,
  type Catalogue,
  type Column,
  type Condition,
  type Filter,
  type Row,
} from "./filters/index.js";

// The same as SQL, with values that are only ever bound.
export {
  MARIADB,
  POSTGRESQL,
  SQLITE,
  attachedColumn,
  compileWhere,
  countStatement,
  pageParts,
  pageStatement,
  positionOf,
  type AttachedColumn,
  type Dialect,
  type PageQuery,
  type RecordOrder,
  type PageStatement,
  type Statement,
  type StoredTable,
  type WhereOptions,
} from "./sql/index.js";

// What was requested, until the moment is known.
export {
  conditionsIn,
  conjunctsOf,
  cql2Json,
  cql2OfQuery,
  cql2Text,
  dependsOnCaller,
  nextChangeOf,
  queryInWords,
  readCql2Query,
  resolveQuery,
  timeDependence,
  translateFilter,
  type Query,
  type QueryCondition,
  type ResolveContext,
  type ResolvedQuery,
  type TranslateRequest,
  type Translation,
} from "./query/index.js";

// Listings: a declaration checked, a request planned.
export {
  checkListing,
  listingForms,
  planListing,
  sentenceOf,
  type PlanningContext,
  type KnownListing,
  type ListingDeclaration,
  type ParameterDeclaration,
  type Plan,
  type PlannedRequest,
  type SentParameters,
} from "./listings/index.js";
