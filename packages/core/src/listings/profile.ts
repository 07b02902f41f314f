import type { Recognition } from "../reading/index.js";

/** A column of a source, looked at. */
export interface ColumnProfile {
  readonly name: string;
  readonly type: "text" | "integer" | "decimal" | "date";
  /** Distinct texts that were looked at; `complete` is false where there are more. */
  readonly distinct: number;
  readonly complete: boolean;
  /** What its values most likely are, whatever they are read as now. */
  readonly recognition: Recognition;
  /** The most frequent texts as they are stored, with the number of their cells. */
  readonly frequent: readonly { readonly value: string; readonly count: number }[];
  /** The first cells that could not be read, by record. */
  readonly unreadable: readonly { readonly id: string | number; readonly value: string }[];
}

/** A source, looked at column by column. */
export interface SourceProfile {
  readonly source: string;
  readonly records: number;
  readonly columns: readonly ColumnProfile[];
}
