import type { ColumnDeclaration } from "@orisma/contract";
import { STATE_CODES, type Fault, type SqlValue } from "@orisma/core/internal";
import { cellReader, foldedOf, hasLastDays, type DictionaryBuilder } from "../sources/index.js";
import type { FileCell, FileRow } from "./files/index.js";

/** What was made of the cells of one column. */
export interface ColumnTally {
  dated: number;
  blank: number;
  unreadable: number;
  /** The first unreadable cells. */
  readonly examples: { readonly row: FileRow; readonly value: string; readonly fault: Fault }[];
}

/** Unreadable cells of a column that are reported one by one. */
const MAX_EXAMPLES = 20;

/** A column made ready for import. */
export interface ColumnWriter {
  readonly tally: ColumnTally | null;
  /** Adds what a cell is stored as: its value, and its state and raw text where it has them. */
  write(raw: FileCell, row: FileRow, values: SqlValue[]): void;
}

/**
 * Makes the writer of a column. A text is stored as it came; other cells as their value, state
 * and raw text, and what cannot be read is kept, counted and reported. A text with a dictionary has its number too.
 *
 * Throws on a reading with a fault: readings are checked when a source is declared.
 */
export function columnWriter(
  column: ColumnDeclaration,
  dictionary?: DictionaryBuilder,
): ColumnWriter {
  if (column.type === "text" && dictionary !== undefined) {
    const write: ColumnWriter["write"] = (raw, _, values) =>
      values.push(raw, foldedOf(raw), dictionary.codeOf(raw));
    return { tally: null, write };
  }
  if (column.type === "text") {
    return { tally: null, write: (raw, _, values) => values.push(raw, foldedOf(raw)) };
  }
  const tally: ColumnTally = { dated: 0, blank: 0, unreadable: 0, examples: [] };
  const read = cellReader(column);
  const withLast = hasLastDays(column);
  return {
    tally,
    write(raw, row, values) {
      const cell = read(raw);
      tally[cell.state]++;
      if (cell.state === "unreadable" && tally.examples.length < MAX_EXAMPLES) {
        tally.examples.push({ row, value: raw ?? "", fault: cell.fault });
      }
      const isDated = cell.state === "dated";
      values.push(isDated ? cell.value : null, STATE_CODES[cell.state], raw);
      if (withLast) values.push(isDated ? (cell.last ?? null) : null);
    },
  };
}
