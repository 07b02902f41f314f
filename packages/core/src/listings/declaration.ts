import type { BlankPolicy, DateComparison } from "../filters/index.js";
import type { DateParameterType, ReversedPolicy } from "../windows/index.js";

/** A typed input of a listing. */
export interface ParameterDeclaration {
  readonly name: string;
  /** `date` takes whole days and coarser, `moment` any precision. */
  readonly type: DateParameterType;
  readonly column: string;
  readonly comparison: DateComparison;
  /** The two parameters that share a pair name are the two ends of one condition. */
  readonly pair?: string;
  /** What a caller's `<name>.blank` is when it is not sent. */
  readonly blanks: BlankPolicy;
  readonly label?: string;
}

/** A named, served, filtered view of a source, already parsed and completed with defaults. */
export interface ListingDeclaration {
  readonly name: string;
  readonly title: string;
  readonly source: string;
  /** The IANA zone in which days begin and end. */
  readonly zone: string;
  /** The date column that the listing's window speaks of. */
  readonly mainDate: string;
  readonly parameters: readonly ParameterDeclaration[];
  /** The columns shown, in order; empty for all of the source's. */
  readonly columns: readonly string[];
  readonly order: {
    /** The columns that callers may order by. */
    readonly allowed: readonly string[];
    /** One of them, with `-` before it for descending. */
    readonly default: string;
  };
  readonly page: {
    /** Records on a page unless told, and at most. */
    readonly size: number;
    readonly most: number;
  };
  /** What happens to two dates in reverse order. */
  readonly reversed: ReversedPolicy;
}

/** Names of parameters that mean the same at every listing, and cannot be declared. */
export const RESERVED_PARAMETERS = [
  "asOf",
  "zone",
  "order",
  "cursor",
  "page",
  "size",
  "columns",
  "filter",
  "format",
  "count",
  "with",
] as const;

/** The reserved parameters that every listing takes today. */
export const ENVELOPE_PARAMETERS = ["order", "cursor", "size", "count", "with"] as const;

/** The largest page that a listing may declare, in records. */
export const LARGEST_PAGE = 10_000;
