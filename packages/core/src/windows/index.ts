export {
  answerWindow,
  yearOfWindow,
  type IntervalAnswer,
  type WindowAnswer,
  type YearOfWindow,
} from "./answer.js";
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
export { intervalInWords, recurringInWords, windowInWords } from "./describe.js";
export { firstMoment } from "./edge.js";
export { nextChange } from "./next-change.js";
export {
  RECURRING_NAMES,
  UNITS,
  WEEKDAYS,
  type Alternative,
  type Duration,
  type Part,
  type Recurring,
  type Unit,
  type Window,
} from "./notation.js";
export { fromQueryString, readWindow, type ReadWindow } from "./read.js";
export {
  MOST_INTERVALS,
  resolveWindow,
  type RecurringInterval,
  type ResolvedWindow,
  type WindowContext,
} from "./resolve.js";
export {
  ISO_CALENDAR,
  calendarSettings,
  type CalendarDeclaration,
  type CalendarSettings,
} from "./settings.js";
export { windowText } from "./write.js";
export { PERIODS_BEFORE, periodBefore, type PeriodBefore } from "./before.js";
export {
  NAMED_WINDOWS,
  checkLadder,
  listWindows,
  type LadderFault,
  type ListedWindow,
  type NamedWindow,
} from "./named.js";
export { withHyphens } from "./hyphens.js";
