import type { BlankPolicy, DateComparison } from "../filters/index.js";
import type { BlankPlace, NestedRows } from "../sql/index.js";
import type { DateForm } from "../reading/index.js";
import {
  DATE_PARAMETER_TYPES,
  type CalendarDeclaration,
  type DateField,
  type DateParameterType,
  type ReversedPolicy,
} from "../windows/index.js";
import type { ColumnFormat, DerivedColumn, RelationDeclaration } from "./columns.js";
import type { EndpointPart } from "./endpoint-parts.js";
import type { ColumnUnits } from "./units.js";

/** What every typed input of a listing has. */
interface CommonParameter {
  readonly name: string;
  /** What a caller's `<name>.blank` is when it is not sent. */
  readonly blanks: BlankPolicy;
  readonly label?: string;
  readonly description?: string;
  readonly example?: string;
  /** Whether a request without it is refused. */
  readonly required?: boolean;
  /**
   * What takes effect where nothing is given, written as a caller would; of dates `extent` is shown
   * to people and is no condition.
   */
  readonly default?: string | readonly string[];
}

/** An input of numbers, strings, choices, yes or no. */
export interface ValueParameter extends CommonParameter {
  readonly type: ValueParameterType;
  readonly comparison: ValueComparison;
  /** None for a search, which has several. */
  readonly column?: string;
  /** The text columns that a search looks into. */
  readonly columns?: readonly string[];
  /** The two parameters that share a pair name are the two ends of one range. */
  readonly pair?: string;
  /** Whether letter case counts: not for text, and for choices by default. */
  readonly caseSensitive?: boolean;
  /** The values that may be chosen; any by default. */
  readonly values?: readonly string[];
}

/** An input of dates. */
export interface DateParameter extends CommonParameter {
  /** `date` takes whole days and coarser, `moment` any precision, `window` a whole window. */
  readonly type: DateParameterType;
  readonly column: string;
  readonly comparison: DateComparison;
  /** The two parameters that share a pair name are the two ends of one condition. */
  readonly pair?: string;
  /** A form in which callers may send the date, beside ISO 8601 and the notation of windows. */
  readonly accepts?: DateForm;
  /** Parameters that carry the year, the month and the day, instead of one that has all. */
  readonly fields?: Readonly<Partial<Record<DateField, string>>>;
  readonly limits?: ParameterLimits;
}

/** A typed input of a listing. */
export type ParameterDeclaration = DateParameter | ValueParameter;

/** What a parameter can take beside dates: `several` is the one that may be sent repeatedly. */
export const VALUE_PARAMETER_TYPES = [
  "integer",
  "decimal",
  "range",
  "text",
  "search",
  "boolean",
  "oneOf",
  "several",
] as const;
export type ValueParameterType = (typeof VALUE_PARAMETER_TYPES)[number];

/** How values are compared with a column. */
export const VALUE_COMPARISONS = [
  "is",
  "isNot",
  "atLeast",
  "above",
  "atMost",
  "below",
  "within",
  "outside",
  "contains",
  "lacks",
  "begins",
  "ends",
  "among",
  "noneOf",
] as const;
export type ValueComparison = (typeof VALUE_COMPARISONS)[number];

/** Whether a parameter takes dates. */
export function takesDates(parameter: ParameterDeclaration): parameter is DateParameter {
  return (DATE_PARAMETER_TYPES as readonly string[]).includes(parameter.type);
}

/** Whether a comparison bounds the start of an interval. */
export function isStart(comparison: ParameterDeclaration["comparison"]): boolean {
  return STARTS.has(comparison);
}

/** Whether a comparison bounds the end of one. */
export function isEnd(comparison: ParameterDeclaration["comparison"]): boolean {
  return ENDS.has(comparison);
}

const STARTS = new Set<ParameterDeclaration["comparison"]>(["from", "after", "atLeast", "above"]);
const ENDS = new Set<ParameterDeclaration["comparison"]>(["to", "before", "atMost", "below"]);

/** What a parameter of dates may ask for at most. */
export interface ParameterLimits {
  /** The first and the last date that may be requested: each one part of a window. */
  readonly earliest?: string;
  readonly latest?: string;
  /** The longest interval, as an ISO 8601 duration; in a pair one of the two parameters has it. */
  readonly longest?: string;
}

/** How a listing's weeks, fiscal years and working days are counted. */
export interface ListingCalendar extends CalendarDeclaration {
  /** Lists of days off that the service holds, by name. */
  readonly holidayLists?: readonly string[];
}

/** A value of a column, of its own type or as text. */
export type OfferedValue = string | number | boolean;

/** What is offered of a column's values; which records are shown is not affected. */
export interface ChoicesDeclaration {
  /** Named groups of values: `pressing` for high and medium, `heavy` for 3 and 4. */
  readonly groups?: Readonly<Record<string, readonly OfferedValue[]>>;
  /** Values that are not offered. */
  readonly hidden?: readonly OfferedValue[];
  /** Values that are shown, and cannot be chosen. */
  readonly disabled?: readonly OfferedValue[];
  /** Whether what a caller used recently is offered to them: yes by default. */
  readonly recent?: boolean;
  /** Whether its values are listed at all: yes by default. */
  readonly values?: boolean;
  /** Whether those without a value, or that cannot be read, are on offer: yes by default. */
  readonly blanks?: boolean;
  /** Of a column of dates: whether a calendar, and windows by name, are on offer: yes by default. */
  readonly calendar?: boolean;
  readonly windows?: boolean;
}

/** How records are shown as the events of a calendar, and as the entries of a feed. */
export interface FeedDeclaration {
  /** What each is called: columns in braces, as in `{task} at {place}`. */
  readonly title: string;
  /** The columns of dates at which each begins and ends, the last day in it; the main date by default. */
  readonly start?: string;
  readonly end?: string;
  /** The columns that are described, a line each. */
  readonly description?: readonly string[];
  readonly location?: string;
  /** The records that are planned only: those with one of some values in a column. */
  readonly planned?: { readonly column: string; readonly values: readonly string[] };
}

/** An endpoint of a listing's own, beside the one that every listing has: in the form that its clients know. */
export interface EndpointDeclaration {
  /** Begins with `/api/`; a parameter of the listing stands in braces. */
  readonly path: string;
  /** The names under which the field to order by and its direction are sent, and the words for the two. */
  readonly order?: {
    readonly field: string;
    readonly direction?: string;
    readonly ascending?: string;
    readonly descending?: string;
  };
  /** The names for the size of a page, and for its number, counted from 1, or the records before it. */
  readonly paging?: {
    readonly limit?: string;
    readonly page?: string;
    readonly offset?: string;
  };
  /** The columns that are sent, and their names there; all under their own by default. */
  readonly fields?: Readonly<Record<string, string>>;
  /** The names of the parts of an answer, or `list` for the bare list of records. */
  readonly answer?:
    | "list"
    | (Readonly<Partial<Record<EndpointPart, string>>> & { readonly records: string });
  /** What faults are called, by language (`*` for all others) and code; `{value}` and `{parameter}` stand for theirs. */
  readonly messages?: Readonly<Record<string, Readonly<Record<string, string>>>>;
}

/** A value as it is sent for a column: null empties the cell. */
export type EditValue = string | number | boolean | null;

/** A named change of records, which a listing offers for one of them or for all that a filter keeps. */
export interface ActionDeclaration {
  /** What its button says; its name by default. */
  readonly label?: string;
  /**
   * The value of each column, as it is sent in an edit; null empties the cell. `today` and `now` are those of
   * the change, and `caller()` is the name of whoever makes it.
   */
  readonly set: Readonly<Record<string, EditValue>>;
}

/** A named, served, filtered view of a source, already parsed and completed with defaults. */
export interface ListingDeclaration {
  readonly name: string;
  readonly title: string;
  readonly source: string;
  /** The listing that it was made from. */
  readonly basedOn?: string;
  /** The IANA zone in which days begin and end. */
  readonly zone: string;
  /** The date column that the listing's window speaks of. */
  readonly mainDate: string;
  readonly parameters: readonly ParameterDeclaration[];
  /** The columns shown, in order; empty for all of the source's, and all that are made. */
  readonly columns: readonly string[];
  /** What is offered of a column's values to choose from, by column. */
  readonly choices?: Readonly<Record<string, ChoicesDeclaration>>;
  /** Columns that are worked out of others, by the names they have here. */
  readonly derived?: Readonly<Record<string, DerivedColumn>>;
  /** Records of other sources beside each record, by the names of the relations. */
  readonly relations?: Readonly<Record<string, RelationDeclaration>>;
  /** How values are shown where they are shown to people, by column. */
  readonly formats?: Readonly<Record<string, ColumnFormat>>;
  /** What headings are called outside, by column; the name of the column by default. */
  readonly labels?: Readonly<Record<string, string>>;
  readonly order: {
    /** The columns that callers may order by. */
    readonly allowed: readonly string[];
    /** One of them, with `-` before it for descending. */
    readonly default: string;
    /** What orders records that the requested order does not distinguish, before the key does. */
    readonly tieBreakers?: readonly string[];
    /** Where records without a value stand: first ascending and last descending by default. */
    readonly blanks?: BlankPlace;
  };
  readonly page: {
    /** Records on a page by default, and at most. */
    readonly size: number;
    readonly max: number;
    /** Whether pages are requested by their number too, which reads all those before. */
    readonly numbered?: boolean;
  };
  /** How many records are counted for a total at most, unless a caller asks for all. */
  readonly total?: { readonly upTo: number };
  /** Whether anybody may read it, without a key: by default only those who have one. */
  readonly public?: boolean;
  /** How its records are shown in calendars and feeds. */
  readonly feed?: FeedDeclaration;
  /** An endpoint of its own, in the form that its clients know; none by default. */
  readonly endpoint?: EndpointDeclaration;
  /** The columns that can be edited, of those that are shown; none by default. */
  readonly editable?: readonly string[];
  /** The changes that can be made by name; none by default. */
  readonly actions?: Readonly<Record<string, ActionDeclaration>>;
  /** Whether callers may pick up where they stopped, with `resume`, and by what: not by default. */
  readonly resume?: boolean | ResumeByTime;
  /** Calls that run at once at most in each class: pages, figures, exports. No limit of its own by default. */
  readonly maxConcurrent?: number;
  /** Of a source with values inside: each record once, or a line for each value, by default. */
  readonly rows?: NestedRows;
  /** What happens to two dates in reverse order. */
  readonly reversed: ReversedPolicy;
  readonly calendar?: ListingCalendar;
  /** A condition in CQL2 that no caller can change, and which everything that is returned satisfies. */
  readonly fixedFilter?: string;
  /**
   * Whether readers are shown that condition in words, or other words in its place. By default they
   * are where they may see all of its columns; authors always are.
   */
  readonly describeFixedFilter?: boolean | string;
  /** The units in which columns of numbers are returned and sent, by column. */
  readonly units?: ColumnUnits;
  /**
   * How long an answer may be held without another request, as ISO 8601 durations: of a window that is
   * closed and past as long as `past` says. Not at all by default.
   */
  readonly cacheFor?: { readonly current?: string; readonly past?: string };
  /** The places on the web whose pages may read the listing, such as `https://vale.example`. */
  readonly allowedOrigins?: readonly string[];
  /**
   * From which role on callers may say when and where they ask, edit, and act: authors by default. Of reading,
   * editing and acting also the names of those who may, beside authors: of people, of keys, and of groups as
   * `group:crew`.
   */
  readonly allow?: Readonly<
    Partial<Record<MomentParameter, AllowedRole>> &
      Partial<Record<ChangeRight, AllowedRole | readonly string[]>> & {
        readonly read?: readonly string[];
      }
  >;
  /** What becomes of parameters that the listing does not have: refused by default. */
  readonly unknownParameters?: "reject" | "ignore";
  /**
   * Whether dates and windows may be sent as people write them, in English, or in English and in a language such as
   * `de` (BCP 47): not by default.
   */
  readonly phrases?: boolean | string;
  /** Lets callers send compound conditions in CQL2, as the parameter `filter`. */
  readonly filter?: {
    /** The columns that they may speak of: `all` that are shown, or these; none where it is empty. */
    readonly columns: readonly string[] | "all";
  };
}

/** How changes of an attached table are found, of which nothing else is noted. */
export interface ResumeByTime {
  /** The column of instants that every change of a record sets to its own time. */
  readonly column: string;
  /**
   * How long a change may take to become visible, as an ISO 8601 duration such as `PT5M`: records of the time since
   * then are not returned yet.
   */
  readonly lag: string;
}

/** The parameters that say at which instant, and in which zone, a request is understood. */
export const MOMENT_PARAMETERS = ["asOf", "zone"] as const;
export type MomentParameter = (typeof MOMENT_PARAMETERS)[number];

/** What callers may do to records: edit their cells, and make the changes that have a name. */
export const CHANGE_RIGHTS = ["edit", "act"] as const;
export type ChangeRight = (typeof CHANGE_RIGHTS)[number];

/** The least role that something is allowed to. */
export const ALLOWED_ROLES = ["reader", "author", "owner", "nobody"] as const;
export type AllowedRole = (typeof ALLOWED_ROLES)[number];

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
  "total",
  "with",
  "rows",
  "unit",
  "by",
  "measure",
  "search",
  "limit",
  "resume",
] as const;

/** The reserved parameters that every listing takes today. */
export const ENVELOPE_PARAMETERS = [
  "order",
  "cursor",
  "size",
  "total",
  "with",
  "columns",
  "format",
] as const;

/** The largest page that a listing may declare, in records. */
export const LARGEST_PAGE = 10_000;
