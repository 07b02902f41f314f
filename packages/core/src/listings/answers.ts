import type { Clause } from "./clauses.js";
import type { RenderedFault, RenderedNotice } from "../faults/index.js";
import type { BlankPolicy } from "../filters/index.js";
import type { Statement } from "../sql/index.js";
import type { IntervalText } from "../windows/index.js";
import type { AppliedDates, RecurringText, WindowView } from "./words.js";

/** A value of a record, as it is sent. */
export type RecordValue = string | number | boolean | null;

/** A record as it is sent: its id, and its columns by name. */
export type RecordAnswer = { readonly id: string | number } & Readonly<Record<string, RecordValue>>;

/**
 * A count of records. `totalExact` is false where there are more records than `total`, and where `total`
 * is null: they were not counted, or not in time.
 */
export interface TotalAnswer {
  readonly total: number | null;
  readonly totalExact: boolean;
}

/** What an answer says of its records. */
export interface RecordsMeta extends TotalAnswer {
  readonly sentence: string;
  /** The windows of the conditions on dates, in order: the same however they were sent. */
  readonly windows: readonly WindowView[];
  readonly notices: readonly RenderedNotice[];
  /** The defaults that took effect because nothing was given, by parameter. */
  readonly defaults?: Readonly<Record<string, readonly string[]>>;
  /** What was applied of each parameter, by name, in its canonical spelling. */
  readonly values?: Readonly<Record<string, readonly string[]>>;
  /** On request: how many there are without the caller's own conditions. */
  readonly unfiltered?: TotalAnswer;
  /** On request: the first and the last of the main date in what is found. */
  readonly extent?: { readonly first: string | null; readonly last: string | null };
  /**
   * On request: the days of the window, else of the interval from the first date to the last, that
   * have a record and that have none; null where there are too many to list.
   */
  readonly days?: { readonly present: number | null; readonly absent: number | null };
  /** Of a request with `resume`: where to go on, and whether there is more by now. */
  readonly resume?: ResumePlace;
  /** On request, where there is no record at all: why. */
  readonly why?: WhyAnswer;
  /** What parameters show whose default is the extent of the data; it is no condition. */
  readonly shown?: Readonly<Record<string, string>>;
  /** Of a source with values inside: how many records it is, and how many lines of values. */
  readonly unnested?: { readonly records: TotalAnswer; readonly values: TotalAnswer };
  /** On request: the conditions of the request, one by one. */
  readonly clauses?: readonly Clause[];
  /** On request: how values are shown that have a declared format, by record id and column. */
  readonly display?: Readonly<Record<string, Readonly<Record<string, string>>>>;
  /** The strings of cells on this page that could not be read, by record id and column. */
  readonly unreadable: Readonly<Record<string, Readonly<Record<string, string>>>>;
}

/** Where a caller goes on who picks up where it stopped. */
export interface ResumePlace {
  readonly token: string;
  readonly hasMore: boolean;
  /** Of an attached table: the lag that its listing declares, and the instant up to which changes are returned. */
  readonly lag?: string;
  readonly upTo?: string;
}

/** One condition, from what was sent to what is bound. */
export interface ConditionExplained {
  readonly column: string;
  /** Which side of the interval is kept, and what happens to blanks. */
  readonly side: "inside" | "outside";
  readonly blanks: BlankPolicy;
  /** The parameters that it came from; none for a condition of the filter. */
  readonly parameters: readonly AppliedDates[];
  /** What is compared: wall clock in the listing's zone, and universal time. */
  readonly intervals: readonly IntervalText[];
  /** Parts that recur, before they are laid out over the dates that there are. */
  readonly recurring: readonly RecurringText[];
}

/** A condition on values, from what was sent to what is compared. */
export interface ValueExplained {
  readonly parameters: readonly {
    readonly parameter: string;
    /** The strings as they came under this name. */
    readonly sent: readonly string[];
    /** What took effect. */
    readonly values: readonly string[];
  }[];
  readonly sentence: string;
}

/** A compound condition, as it came and as it was understood. */
export interface CompoundExplained {
  readonly sent: string;
  /** In CQL2, with its windows as they are written. */
  readonly canonical: string;
  readonly sentence: string;
  /** Why parts of it, or all of it, can keep nothing. */
  readonly contradictions: readonly string[];
}

/** What was sent, how it was applied, and the statements that are run. */
export interface Explanation {
  readonly sentence: string;
  readonly zone: string;
  readonly conditions: readonly ConditionExplained[];
  /** The conditions on numbers, strings and choices. */
  readonly values: readonly ValueExplained[];
  /** The filter that the listing sets for every caller; null for none. */
  readonly fixedFilter: CompoundExplained | null;
  /** The caller's compound condition, from what was sent to what it comes to; null for none. */
  readonly compound: CompoundExplained | null;
  /** The columns of the statements, by their names in the database. */
  readonly names: Readonly<Record<string, string>>;
  readonly statements: {
    /** The first of the page's statements; the others go on through the window until it is full. */
    readonly page: Statement;
    /** How many there are at most. */
    readonly parts: number;
    readonly count: Statement | null;
  };
  readonly notices: readonly RenderedNotice[];
  readonly narrowing: Narrowing;
  /** For a source of several tables: how many were opened, of all that there are. */
  readonly tables?: { readonly opened: number; readonly of: number };
  /** How the database goes about it, in words. */
  readonly plan: { readonly page: readonly PlanStep[]; readonly count: readonly PlanStep[] };
  /** For each date condition the dates nearest to its edges. */
  readonly neighbours: readonly Neighbours[];
  /** Why there is no record; nothing where there is one. */
  readonly empty: readonly string[];
}

/** How many records there are, and how many each condition lets through; null for not counted. */
export interface Narrowing {
  readonly records: number | null;
  readonly steps: readonly {
    readonly condition: string;
    /** Whether it is of the listing's own filter. */
    readonly isFixed?: true;
    /** Of all records, by this condition alone. */
    readonly alone: number | null;
    /** After this condition and all those before it. */
    readonly inTurn: number | null;
  }[];
  /** For each column of a condition how many of its cells are no values. */
  readonly without: Readonly<
    Record<string, { readonly blank: number | null; readonly unreadable: number | null }>
  >;
}

/**
 * Why a request finds no records, and why one record is in or out: of what its caller may see alone.
 */
export interface WhyAnswer {
  /** What was searched. */
  readonly sentence: string;
  /** Why there is no record; nothing where there is one. */
  readonly reasons: readonly string[];
  readonly narrowing: Narrowing;
  /** For each date condition the dates nearest to its edges. */
  readonly neighbours: readonly Neighbours[];
  /** The requested record, against each condition. */
  readonly record?: RecordVerdict;
}

/** One record against the conditions of a request. */
export interface RecordVerdict {
  readonly id: string | number;
  /** Whether it satisfies all of them. */
  readonly isIn: boolean;
  readonly conditions: readonly {
    readonly condition: string;
    readonly isMet: boolean;
    /** What the record has in the columns that are compared; strings that cannot be read as they came. */
    readonly values: Readonly<Record<string, RecordValue>>;
  }[];
}

/** One step of the database's plan. */
export interface PlanStep {
  readonly words: string;
  /** Records that it expects to read. */
  readonly records: number;
  /** What would serve better, where it reads far more than it needs. */
  readonly advice?: string;
}

/** The dates nearest to one edge of a window. */
export interface Neighbours {
  readonly column: string;
  readonly edge: "start" | "end";
  /** The edge on the wall clock of the listing's zone. */
  readonly at: string;
  /** The last date before it, and the first at or after it; null where there is none. */
  readonly before: string | null;
  readonly after: string | null;
}

/** Records that only one of two requests keeps: how many, and the first of them. */
export interface ComparedAnswer extends TotalAnswer {
  readonly records: readonly RecordAnswer[];
}

/** Two requests to one listing side by side. */
export interface RecordsComparison {
  readonly before: TotalAnswer & { readonly sentence: string };
  readonly after: TotalAnswer & { readonly sentence: string };
  /** What the second does not keep any more. */
  readonly removed: ComparedAnswer;
  /** What only the second keeps. */
  readonly added: ComparedAnswer;
}

/** How many records a request keeps; where it cannot be so, what is wrong with it. */
export interface CountedAnswer extends TotalAnswer {
  readonly faults?: readonly RenderedFault[];
}

/** Several requests to one listing, counted, in the order in which they were sent. */
export interface CountsAnswer {
  readonly counts: readonly CountedAnswer[];
}

/** A page of records with the addresses of the pages beside it, as it is sent. */
export interface RecordsAnswer {
  readonly records: readonly RecordAnswer[];
  readonly meta: RecordsMeta & { readonly readAt: string };
  readonly links: {
    readonly first: string;
    readonly next?: string;
    readonly previous?: string;
  };
}
