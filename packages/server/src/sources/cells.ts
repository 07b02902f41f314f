import type { Reading } from "@orisma/core/internal";
import type { ColumnDeclaration } from "@orisma/contract";
import {
  STATE_CODES,
  compileReading,
  encodeMs,
  fault,
  foldText,
  isBlankText,
  isPlainNumber,
  placed,
  readBoolean,
  renderFault,
  type CompiledReading,
  type Fault,
  type RenderedFault,
  type SqlValue,
} from "@orisma/core/internal";
import type { FileCell, FileRow } from "../files/index.js";

/** What was made of the cells of one column. */
export interface ColumnTally {
  dated: number;
  blank: number;
  unreadable: number;
  /** The first unreadable cells. */
  readonly examples: { readonly row: FileRow; readonly value: string; readonly fault: Fault }[];
}

/** Unreadable cells of a column that are told one by one. */
const MOST_EXAMPLES = 20;

/** A column made ready for import. */
export interface ColumnWriter {
  readonly tally: ColumnTally | null;
  /** Adds what a cell is stored as: its value, and its state and raw text where it has them. */
  write(raw: FileCell, row: FileRow, values: SqlValue[]): void;
}

/**
 * Makes the writer of a column. A text is stored as it came; other cells as their value, state
 * and raw text, and what cannot be read is kept, counted and told of.
 *
 * Throws on a reading with a fault: readings are checked when a source is declared.
 */
export function columnWriter(column: ColumnDeclaration): ColumnWriter {
  if (column.type === "text") {
    return { tally: null, write: (raw, _, values) => values.push(raw, foldedOf(raw)) };
  }
  const tally: ColumnTally = { dated: 0, blank: 0, unreadable: 0, examples: [] };
  const read = cellReader(column);
  return {
    tally,
    write(raw, row, values) {
      const cell = read(raw);
      tally[cell.state]++;
      if (cell.state === "unreadable" && tally.examples.length < MOST_EXAMPLES) {
        tally.examples.push({ row, value: raw ?? "", fault: cell.fault });
      }
      values.push(cell.state === "dated" ? cell.value : null, STATE_CODES[cell.state], raw);
    },
  };
}

/** A text as it is stored to be compared without regard to letter case; null for a blank one. */
export function foldedOf(raw: FileCell): string | null {
  return raw === null || isBlankText(raw) ? null : foldText(raw);
}

/** A cell as it is stored. */
export type StoredCell =
  /** For numbers too: the cell holds what its column is for. */
  | { readonly state: "dated"; readonly value: SqlValue }
  | { readonly state: "blank" }
  | { readonly state: "unreadable"; readonly fault: Fault };

/** Makes the reader of a column that holds no texts. */
export function cellReader(
  column: Exclude<ColumnDeclaration, { readonly type: "text" }>,
): (raw: FileCell) => StoredCell {
  switch (column.type) {
    case "date":
      return dateReader(column.reading);
    case "boolean":
      return readBooleanCell;
    default:
      return numberReader(column.type);
  }
}

function dateReader(reading: Reading): (raw: FileCell) => StoredCell {
  const compiled = compiledReading(reading);
  return (raw) => {
    const cell = compiled.read(raw);
    if (cell.state !== "dated") return cell;
    const bound = encodeMs(cell.ms, compiled.kind);
    return bound.kind === "value"
      ? { state: "dated", value: bound.text }
      : { state: "unreadable", fault: fault("date.form", { text: raw ?? "" }) };
  };
}

function compiledReading(sent: Reading): CompiledReading {
  const compiled = compileReading(sent);
  if (compiled.ok) return compiled.value;
  throw new Error(compiled.faults.map(({ code }) => code).join(", "));
}

function numberReader(type: "integer" | "decimal"): (raw: FileCell) => StoredCell {
  return (raw) => {
    const text = (raw ?? "").trim();
    if (text === "") return { state: "blank" };
    if (isPlainNumber(text, type)) return { state: "dated", value: text };
    return { state: "unreadable", fault: fault("number.form", { text: raw ?? "", type }) };
  };
}

function readBooleanCell(raw: FileCell): StoredCell {
  const text = (raw ?? "").trim();
  if (text === "") return { state: "blank" };
  const value = readBoolean(text);
  if (value !== null) return { state: "dated", value: value ? 1 : 0 };
  return { state: "unreadable", fault: fault("boolean.form", { text }) };
}

/** A fault of a cell with its text, as it is sent. */
export function faultOf(found: Fault, raw: FileCell): RenderedFault {
  return renderFault(placed(found, { value: raw ?? "" }));
}
