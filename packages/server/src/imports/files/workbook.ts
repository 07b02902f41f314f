/** A cell of a sheet: its text as it is stored, and whether the sheet says that it is a date. */
export interface SheetCell {
  readonly text: string;
  readonly type: "text" | "number" | "boolean" | "date" | "other";
  /** Of a date that is stored as a number: the day, or the time, that the sheet shows, in ISO 8601. */
  readonly shown?: string;
  /** Of a date: whether it is stored with a zone, which the programs that show it omit. */
  readonly isZoned?: boolean;
}

/** A row of a sheet that is not empty. */
export interface SheetRow {
  /** Counted from 1. */
  readonly number: number;
  /** By column, counted from 0; holes are empty cells. */
  readonly cells: readonly (SheetCell | undefined)[];
}

export interface Sheet {
  readonly name: string;
  readonly isHidden: boolean;
}

/** A workbook opened for reading. */
export interface Workbook {
  readonly format: "xlsx" | "ods";
  /** How its date cells are stored. */
  readonly dates: "serial-1900" | "serial-1904" | "text";
  readonly sheets: readonly Sheet[];
  /** The rows of one sheet that are not empty, in batches. */
  rows(sheet: number, onShare?: (share: number) => void): AsyncGenerator<readonly SheetRow[]>;
  close(): void;
}

/** Columns of a sheet at most (ISO/IEC 29500 and common practice). */
export const MAX_SHEET_COLUMNS = 16_384;
/** Characters of one cell at most; spreadsheets allow 32,767. */
export const LONGEST_CELL = 1_000_000;
