export {
  answerWindow,
  yearSpans,
  intervalText,
  listedWindowAnswer,
  yearInWords,
  yearOfWindow,
  type YearSpan,
  type IntervalText,
  type ListedWindowAnswer,
  type WindowAnswer,
  type YearOfWindow,
} from "./answer.js";
export { DATE_FIELDS, dateOfFields, type DateField, type SentField } from "./fields.js";
export {
  DATE_PARAMETER_TYPES,
  isFinerThanDay,
  isTimeOfDay,
  isNotGiven,
  readGiven,
  timeOfDayIn,
  type DateParameterType,
  type Given,
  type GivenInput,
} from "./input.js";
export { REVERSED_POLICIES, isReversed, type ReversedPolicy } from "./pair.js";
export { dateInWords, writtenEndInWords, writtenStartInWords } from "./sentence.js";
export { resolveSpan, type ResolvedSpan } from "./span.js";
export {
  endInWords,
  intervalInWords,
  intervalsInWords,
  periodInWords,
  recursInWords,
  wallInWords,
  windowInWords,
  windowPeriodInWords,
} from "./describe.js";
export { firstMoment } from "./edge.js";
export {
  answerPhrase,
  meaningOf,
  meantBy,
  phrasesIn,
  phraseLocale,
  readOnePhrase,
  readPhrase,
  withMeant,
  withMeantValues,
  type PhraseContext,
} from "./phrases/index.js";
export { nextChange } from "./next-change.js";
export {
  RECURRING_NAMES,
  UNITS,
  WEEKDAYS,
  partsOf,
  type Alternative,
  type Duration,
  type Part,
  type NumberSpan,
  type Recurring,
  type Unit,
  type WeekdaySpan,
  type Range,
  type Window,
} from "./notation.js";
export { fromQueryString, readLength, readOneDate, readWindow, type ReadWindow } from "./read.js";
export {
  dayMatcher,
  holdsAt,
  recurringIntervals,
  constantOffsetWall,
  type ClosedInterval,
} from "./recurring.js";
export {
  MAX_INTERVALS,
  MAX_LISTED_INTERVALS,
  isLonger,
  resolveExactly,
  resolvePart,
  resolveWindow,
  skippedDay,
  unitLength,
  type ExactWindow,
  type RecurringInterval,
  type ResolvedPart,
  type ResolvedWindow,
  type WindowContext,
} from "./resolve.js";
export {
  ISO_CALENDAR,
  calendarSettings,
  type CalendarDeclaration,
  type CalendarSettings,
  type WeekRules,
} from "./settings.js";
export { durationText, partText, recurringText, windowText } from "./write.js";
export { WINDOW_FORMS, type WindowForm } from "./forms.js";
export { PERIODS_BEFORE, periodBefore, type PeriodBefore } from "./before.js";
export {
  NAMED_WINDOWS,
  checkLadder,
  listWindows,
  isWindowText,
  windowsByName,
  type WindowsByName,
  type LadderFault,
  type ListedWindow,
  type NamedWindow,
} from "./named.js";
export { withHyphens } from "./hyphens.js";
export { BUCKET_UNITS, MAX_BUCKETS, bucketEdges, type BucketUnit } from "./buckets.js";
