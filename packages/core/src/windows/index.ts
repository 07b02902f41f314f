export {
  DATE_PARAMETER_TYPES,
  isFinerThanDay,
  readGivenDate,
  type DateParameterType,
  type GivenDate,
} from "./input.js";
export { REVERSED_POLICIES, isReversed, type ReversedPolicy } from "./pair.js";
export { dateInWords, endInWords, startInWords } from "./sentence.js";
export { resolveSpan, type ResolvedSpan } from "./span.js";
