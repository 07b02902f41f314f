import type { BlankPolicy, DateComparison } from "../filters/index.js";
import type { BlankPlace, NestedRows } from "../sql/index.js";
import type { DateForm } from "../reading/index.js";
import type {
  CalendarDeclaration,
  DateField,
  DateParameterType,
  ReversedPolicy,
} from "../windows/index.js";

/** A typed input of a listing. */
export interface ParameterDeclaration {
  readonly name: string;
  /** `date` takes whole days and coarser, `moment` any precision, `window` a whole window. */
  readonly type: DateParameterType;
  readonly column: string;
  readonly comparison: DateComparison;
  /** The two parameters that share a pair name are the two ends of one condition. */
  readonly pair?: string;
  /** What a caller's `<name>.blank` is when it is not sent. */
  readonly blanks: BlankPolicy;
  readonly label?: string;
  /** A form in which callers may send the date, beside ISO 8601 and the notation of windows. */
  readonly accepts?: DateForm;
  /** Parameters that carry the year, the month and the day, instead of one that has all. */
  readonly fields?: Readonly<Partial<Record<DateField, string>>>;
  readonly limits?: ParameterLimits;
}

/** What a parameter of dates may ask for at most. */
export interface ParameterLimits {
  /** The first and the last date that may be asked for: each one part of a window. */
  readonly earliest?: string;
  readonly latest?: string;
  /** The longest stretch, as an ISO 8601 duration; of a pair, one of the two says it. */
  readonly longest?: string;
}

/** How a listing's weeks, financial years and working days are counted. */
export interface ListingCalendar extends CalendarDeclaration {
  /** Lists of days off that the service holds, by name. */
  readonly holidayLists?: readonly string[];
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
    /** What orders records that the asked order does not tell apart, before the key does. */
    readonly ties?: readonly string[];
    /** Where records without a value stand: first ascending and last descending unless told. */
    readonly blanks?: BlankPlace;
  };
  readonly page: {
    /** Records on a page unless told, and at most. */
    readonly size: number;
    readonly most: number;
  };
  /** Of a source with values inside: each record once, or a line for each value, unless told. */
  readonly rows?: NestedRows;
  /** What happens to two dates in reverse order. */
  readonly reversed: ReversedPolicy;
  readonly calendar?: ListingCalendar;
  /** Lets callers send compound conditions in CQL2, as the parameter `filter`. */
  readonly filter?: {
    /** The columns that they may speak of; empty for those shown. */
    readonly columns: readonly string[];
  };
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
  "rows",
] as const;

/** The reserved parameters that every listing takes today. */
export const ENVELOPE_PARAMETERS = ["order", "cursor", "size", "count", "with"] as const;

/** The largest page that a listing may declare, in records. */
export const LARGEST_PAGE = 10_000;
