export { readIsoDate, type Precision, type WrittenDate } from "./iso.js";
export { compilePattern, type DatePattern, type PatternReading } from "./pattern.js";
export {
  DATE_ENCODINGS,
  DATE_KINDS,
  compileReading,
  type Cell,
  type CellState,
  type CompiledReading,
  type DateEncoding,
  type DateKind,
  type Reading,
} from "./reading.js";
