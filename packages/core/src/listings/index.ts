export type {
  ConditionExplained,
  Explanation,
  RecordAnswer,
  RecordValue,
  RecordsAnswer,
  RecordsMeta,
  TotalAnswer,
  TotalIs,
} from "./answers.js";
export { checkListing } from "./check.js";
export {
  ENVELOPE_PARAMETERS,
  LARGEST_PAGE,
  RESERVED_PARAMETERS,
  type ListingDeclaration,
  type ParameterDeclaration,
} from "./declaration.js";
export type { ColumnProfile, ColumnSample, SourceProfile } from "./profile.js";
export { nameFault } from "./names.js";
export {
  parameterNames,
  planRequest,
  type EffectiveCondition,
  type EffectiveParameter,
  type PlanContext,
  type PlannedRequest,
  type SentParameters,
} from "./request.js";
export {
  intervalText,
  sentenceOf,
  windowTexts,
  type IntervalText,
  type WindowText,
} from "./words.js";
