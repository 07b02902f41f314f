import type { BucketUnit, IntervalText } from "../windows/index.js";
import type { RecordValue, TotalAnswer } from "./answers.js";

/** A value that can be chosen, with how many records it would give. */
export interface Choice {
  readonly value: RecordValue;
  readonly records: number;
  /** Whether it is shown, and cannot be chosen. */
  readonly disabled?: true;
}

/** What a declaration would change, were it applied. */
export interface DeclarationDifference {
  /** Whether there is no listing of the name yet. */
  readonly isNew: boolean;
  /** What it says otherwise than the one that serves, a line each. */
  readonly changes: readonly string[];
  /** What is allowed in it, and seldom meant, a line each. */
  readonly remarks: readonly string[];
  /** What stands on the one that serves and would no longer work, a line each. */
  readonly breaks: readonly string[];
  /**
   * On today's data, with nothing requested: the records that would be added and removed.
   * Null for a new listing, and where the two cannot be laid side by side.
   */
  readonly records: { readonly added: TotalAnswer; readonly removed: TotalAnswer } | null;
}

/** The values of a column in the records that pass all other conditions. */
export interface ChoicesAnswer {
  readonly column: string;
  readonly choices: readonly Choice[];
  readonly groups: readonly {
    readonly name: string;
    readonly values: readonly RecordValue[];
    readonly records: number;
  }[];
  /** What the caller used recently, the latest first; only what there still is. */
  readonly recent?: readonly { readonly value: RecordValue; readonly records: number }[];
  readonly blank: number;
  readonly unreadable: number;
  /** Whether there are more values than are reported. */
  readonly more: boolean;
}

/** The first and last dates of each date column. */
export interface ExtentAnswer {
  readonly extent: Readonly<
    Record<string, { readonly first: string | null; readonly last: string | null }>
  >;
}

/** Records counted along time. */
export interface TimelineAnswer {
  readonly column: string;
  readonly unit: BucketUnit;
  readonly zone: string;
  readonly buckets: readonly (IntervalText & { readonly records: number })[];
  /** Units without any record. */
  readonly empty: number;
  readonly blank: number;
  readonly unreadable: number;
  /** The same number of records in the interval before, where the window has two ends. */
  readonly before: (IntervalText & { readonly records: number }) | null;
}

/** Records grouped, with totals that add up. */
export interface SummaryAnswer {
  readonly by: readonly string[];
  readonly groups: readonly SummaryGroup[];
  /** For each of two dimensions the totals over the other; for one the groups are that already. */
  readonly totals: readonly (readonly SummaryGroup[])[];
  readonly grand: SummaryGroup;
}

/** Records of one group. */
export interface SummaryGroup {
  /** A value or the beginning of a unit of time for each dimension; null for a blank. */
  readonly of: readonly RecordValue[];
  readonly records: number;
  readonly measures: Readonly<Record<string, RecordValue>>;
}
