export type {
  Choice,
  ChoicesAnswer,
  DeclarationDifference,
  ExtentAnswer,
  SummaryAnswer,
  SummaryGroup,
  TimelineAnswer,
} from "./around-answers.js";
export type {
  ComparedAnswer,
  CompoundExplained,
  ConditionExplained,
  ValueExplained,
  Explanation,
  Narrowing,
  Neighbours,
  PlanStep,
  RecordAnswer,
  RecordValue,
  RecordVerdict,
  RecordsAnswer,
  CountedAnswer,
  CountsAnswer,
  RecordsComparison,
  RecordsMeta,
  TotalAnswer,
  WhyAnswer,
} from "./answers.js";
export { clausesOf, type Clause } from "./clauses.js";
export { COMPARISONS_OF, checkListing, listingForms } from "./check.js";
export type { SentParameters } from "./sent.js";
export {
  ENVELOPE_PARAMETERS,
  LARGEST_PAGE,
  MOMENT_PARAMETERS,
  CHANGE_RIGHTS,
  ALLOWED_ROLES,
  RESERVED_PARAMETERS,
  VALUE_COMPARISONS,
  VALUE_PARAMETER_TYPES,
  isEnd,
  isStart,
  takesDates,
  type ChoicesDeclaration,
  type OfferedValue,
  type DateParameter,
  type ValueParameter,
  type ValueParameterType,
  type ListingCalendar,
  type MomentParameter,
  type AllowedRole,
  type ActionDeclaration,
  type ResumeByTime,
  type EditValue,
  type EndpointDeclaration,
  type ChangeRight,
  type FeedDeclaration,
  type ListingDeclaration,
  type ParameterDeclaration,
  type ParameterLimits,
} from "./declaration.js";
export {
  sampleInWords,
  type ColumnProfile,
  type ColumnSample,
  type RecordSample,
  type SourceProfile,
} from "./profile.js";
export { csvText, type CsvForm } from "./csv.js";
export { nameFault, nameFromFile } from "./names.js";
export {
  DERIVED_PARTS,
  type ColumnFormat,
  type DerivedColumn,
  type DerivedPart,
  type RelationDeclaration,
} from "./columns.js";
export { computedColumns, derivedNumbers } from "./computed.js";
export { derivedMovement, derivedValue } from "./derived.js";
export { formatter } from "./format.js";
export {
  MAX_SEARCHED,
  onlyDate,
  parameterFor,
  parameterName,
  defaultParameters,
} from "./sensible.js";
export {
  addedColumns,
  neededFor,
  withJoinedColumns,
  type AddedColumn,
  type RelatedSource,
} from "./shown.js";
export { maxAge } from "./max-age.js";
export { momentOf, type Moment } from "./moment.js";
export { MAX_ORDERED } from "./order.js";
export { allowedWindows, type AllowedKind } from "./allowed-windows.js";
export { fixedFilter, type FixedFilter } from "./fixed-filter.js";
export { parameterNames } from "./parameter-names.js";
export { filterColumns, planRequest } from "./request.js";
export { takesPhrases } from "./dates.js";
export type { PlannedRequest } from "./planned.js";
export {
  BLANKS_EXPLAINED,
  appliedBy,
  appliedDates,
  recurringSpanText,
  requiredDates,
  namingOf,
  sentenceOf,
  windowViews,
  type AppliedDates,
  type RecurringText,
  type WindowView,
} from "./words.js";
export { inStoredUnits, unscaled, type ColumnUnit, type ColumnUnits } from "./units.js";
export type { ValueCondition } from "./values.js";
export { EXTENT } from "./given.js";
export type { PlanContext, Viewer } from "./context.js";
export { ENDPOINT_PARTS, type EndpointPart } from "./endpoint-parts.js";
export {
  endpointAnswer,
  endpointMessage,
  endpointName,
  endpointRequest,
  literalSegments,
  matchPath,
  pathShape,
  type EndpointAnswer,
} from "./endpoint.js";
export { feedColumns, feedOf, titleOf } from "./feed.js";
export { readAction, readEdit, type EditContext, type EditedCells } from "./editing.js";
export { beforeInstant, resumeUpTo, takesResume } from "./resume.js";
export { savedListing, type SavedView } from "./saved.js";
export { changesBetween, differenceInWords } from "./difference.js";
export { listFault } from "./value-list.js";
export { remarksOn } from "./remarks.js";
export { TOTALS, EXTRAS, FORMATS, readEnvelope, type Envelope, type Format } from "./envelope.js";
export { CURSOR_ENDS, type Cursor, type CursorBinding } from "./cursor.js";
export { planListing, type PlanningContext, type KnownListing, type Plan } from "./plan.js";
export { filterOnDerived, numbersOfPart } from "./derived-conditions.js";
