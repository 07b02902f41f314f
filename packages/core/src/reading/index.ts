export { DATE_KINDS, type Cell, type CellState, type DateKind } from "./cell.js";
export { cellInWords, dateText, dateTextMs, readValues, type ReadAnswer } from "./answers.js";
export { compileDateForm, leavesIso, type CompiledDateForm, type DateForm } from "./given-form.js";
export { readIsoDate, type Precision, type WrittenDate } from "./iso.js";
export {
  PLAUSIBLE_YEARS,
  dateQuality,
  type Conspicuous,
  type DateQuality,
  type TimeBucket,
} from "./quality.js";
export {
  FIXED_FIELDS,
  fixedFormOf,
  type FixedField,
  type FixedForm,
  type OffsetForm,
} from "./pattern-fixed.js";
export { textLayoutsOf, type PlacedPart, type TextLayout } from "./text-layouts.js";
export { readBoolean } from "./booleans.js";
export {
  DECIMAL_SEPARATORS,
  GROUP_SEPARATORS,
  compileBooleanForm,
  compileNumberForm,
  decimalIn,
  numberFormOf,
  writeNumber,
  type BooleanForm,
  type NumberForm,
} from "./number-form.js";
export {
  formInWords,
  isCertainNumbers,
  recogniseNumbers,
  type NumberCandidate,
  type NumberRecognition,
} from "./recognise-numbers.js";
export { datePattern } from "./date-pattern.js";
export { ENGLISH, addNames, knownLocales, namesOf, type Locale, type NameTable } from "./names.js";
export {
  DATE_ENCODINGS,
  NAMED_PATTERNS,
  PARTIAL_POLICIES,
  type PartialPolicy,
  compileReading,
  readColumn,
  type CompiledReading,
  type DateEncoding,
  type Reading,
} from "./reading.js";
export type { EpochEncoding, SerialEncoding } from "./numbers.js";
export { isPlainNumber } from "./plain-numbers.js";
export type { ValueCount } from "./column-values.js";
export { countNumbers, type NumberCounts } from "./number-counts.js";
export {
  isCertain,
  nameOf,
  recogniseColumn,
  type ReadingCandidate,
  type ReadingRival,
  type Recognition,
  type ShownDates,
} from "./recognise.js";
