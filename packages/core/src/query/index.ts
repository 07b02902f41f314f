export {
  ANY_RECORD,
  NO_RECORD,
  conditionsIn,
  conjunctsOf,
  dateTest,
  mapConditions,
  originOf,
  periodTest,
  queryOfValues,
  type DatePartQuery,
  type DateQuery,
  type DateTest,
  type EndTest,
  type FixedCondition,
  type Origin,
  type OverlapQuery,
  type Query,
  type QueryCondition,
  type SentInput,
  type ValueQuery,
} from "./query.js";
export {
  cql2Json,
  cql2Of,
  cql2OfQuery,
  cql2Text,
  readCql2,
  readCql2Json,
  readCql2Query,
  readCql2Text,
  type Cql2Context,
  type Cql2Reading,
  type Expression,
} from "./cql2/index.js";
export {
  columnsOfCondition,
  columnsOfQuery,
  dependsOnCaller,
  isConstant,
  mostDependent,
  nextChangeOf,
  nextDay,
  timeDependence,
  type TimeDependence,
} from "./depends.js";
export { allOf, columnOfPart, replacePart } from "./edit.js";
export {
  filterOfPart,
  resolveQuery,
  type ResolveContext,
  type ResolvedDateQuery,
  type ResolvedQuery,
} from "./resolve.js";
export type { Claims } from "./resolve.js";
export type { ResolvedDates } from "./resolve-dates.js";
export { canonicalPart, canonicalTest, dateWords, queryInWords, shortDateWords } from "./words.js";
export {
  queryOfTyped,
  typedCondition,
  typedExpression,
  type TypedComparison,
  type TypedCondition,
} from "./typed.js";
export {
  translateFilter,
  type TranslateRequest,
  type TranslatedColumn,
  type TranslatedStatement,
  type Translation,
} from "./translate.js";
