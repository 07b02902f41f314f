import type { ColumnType } from "../filters/index.js";
import type {
  BooleanForm,
  DateQuality,
  NumberCounts,
  NumberForm,
  NumberRecognition,
  ReadAnswer,
  Reading,
  Recognition,
  ShownDates,
} from "../reading/index.js";

/** Some of the records of a source, of which all that is said of a column is. */
export interface RecordSample {
  readonly records: number;
  /** All that there are; null where they could not be counted in time. */
  readonly of: number | null;
  /** Evenly from all of them, or the first that the database gave. */
  readonly drawn: "evenly" | "first";
}

/** A sample in words: `of 90,412 of 1,200,000 records, drawn evenly`. */
export function sampleInWords({ records, of, drawn }: RecordSample): string {
  const number = (count: number) => count.toLocaleString("en-GB");
  const all = of === null ? "" : ` of ${number(of)}`;
  return drawn === "evenly"
    ? `of ${number(records)}${all} records, drawn evenly`
    : `of the first ${number(records)}${all} records`;
}

/** A column of a source, looked at. */
export interface ColumnProfile {
  readonly name: string;
  readonly type: ColumnType;
  /** Distinct strings that were looked at. */
  readonly distinct: number;
  /** Of which records all of this is; null for all. */
  readonly sample: RecordSample | null;
  /** What its values most likely are, whatever they are read as now. */
  readonly recognition: Recognition;
  /** What its values are as numbers. */
  readonly numbers: NumberCounts;
  /** The form that its numbers have, or its yes and no, where that is declared. */
  readonly form?: NumberForm | BooleanForm;
  /** How its numbers are written, where they are any. */
  readonly written: NumberRecognition;
  /** Cells that the sheet which they came from shows as dates. */
  readonly dateCells?: ShownDates;
  /** The reading that the column has, else the likeliest; null where neither is. */
  readonly reading: Reading | null;
  /** What its cells come to under that reading. */
  readonly quality: DateQuality | null;
  /** The most frequent strings as they are stored, each with what it is under that reading. */
  readonly samples: readonly ColumnSample[];
  /** The first cells that could not be read, by record. */
  readonly unreadable: readonly { readonly id: string | number; readonly value: string }[];
}

/** A text of a column, the number of its cells, and what it is under a reading. */
export interface ColumnSample
  extends Omit<ReadAnswer, "state">, Partial<Pick<ReadAnswer, "state">> {
  readonly count: number;
}

/** A source, looked at column by column. */
export interface SourceProfile {
  readonly source: string;
  readonly records: number;
  readonly columns: readonly ColumnProfile[];
}
