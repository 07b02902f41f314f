export { dateText, readValues, type ReadAnswer } from "./answers.js";
export { readIsoDate, type Precision, type WrittenDate } from "./iso.js";
export { LOCALES, type Locale } from "./names.js";
export {
  DATE_ENCODINGS,
  DATE_KINDS,
  NAMED_PATTERNS,
  compileReading,
  type Cell,
  type CellState,
  type CompiledReading,
  type DateEncoding,
  type DateKind,
  type Reading,
} from "./reading.js";
export {
  nameOf,
  recogniseColumn,
  type ReadingCandidate,
  type ReadingRival,
  type Recognition,
  type ValueCount,
} from "./recognise.js";
