import type { Notice } from "../faults/index.js";
import type {
  BlankPolicy,
  Condition,
  DateComparison,
  DateCondition,
  Filter,
  OverlapCondition,
  Relation,
  Side,
} from "../filters/index.js";
import type { Alternative, Part, Recurring, Window } from "../windows/index.js";

/** A value as a caller sent it, and the name under which it was sent. */
export interface SentInput {
  readonly parameter: string;
  readonly raw: string;
  /** Whether one date was sent, a whole window, or a value that is none. */
  readonly form: "date" | "window" | "value";
  /** Whether the listing's default was applied because nothing was sent. */
  readonly isDefault: boolean;
}

/** Where a condition came from. */
export type Origin =
  /** Parameters: one, or the two ends of a pair in the order of the condition's dates. */
  | {
      readonly kind: "parameter";
      readonly names: readonly string[];
      readonly sent: readonly SentInput[];
    }
  /** A filter in CQL2; `path` is the place in a document of the JSON form. */
  | { readonly kind: "filter"; readonly path?: string }
  /** The filter that a listing sets for every caller. */
  | { readonly kind: "fixedFilter"; readonly path?: string };

interface Requested {
  /** Names the condition within its query, to edit it. */
  readonly id: string;
  readonly origin: Origin;
}

/** One end of a period between two dates. */
export interface EndTest<C extends "from" | "after" | "to" | "before"> {
  readonly comparison: C;
  readonly part: Part;
}

/** What a date is compared with, as it was written. The same window has one form, however it came. */
export type DateTest =
  /** One written date: a day, a month, a moment; fixed, or moving with the clock. */
  | { readonly kind: "part"; readonly comparison: DateComparison; readonly part: Part }
  /** From one written date to another. */
  | {
      readonly kind: "between";
      readonly start: EndTest<"from" | "after">;
      readonly end: EndTest<"to" | "before">;
      /** Whether two fixed dates in reverse order follow the listing's policy; else nothing lies between. */
      readonly maySwap: boolean;
    }
  /** Any other window: several periods, a length, recurring parts, all dates. */
  | { readonly kind: "window"; readonly comparison: "on" | "notOn"; readonly window: Window };

/** A condition on a column of dates. */
export interface DateQuery extends Requested {
  readonly kind: "date";
  readonly column: string;
  /** The alternatives of which any may hold; none where only blanks are requested. */
  readonly tests: readonly DateTest[];
  readonly blanks: BlankPolicy;
  /** The name of the window, where it was requested by its name. */
  readonly named?: string;
  /** What reading the value gave notice of. */
  readonly notices: readonly Notice[];
  /** Whether a day around today, or a moment around now, outside the calendar stands for its end, and is no fault. */
  readonly endsWithCalendar?: true;
  /** Whether its dates follow from the day of the request, as those of `since Monday` do, though they are written. */
  readonly changesDaily?: true;
}

/** A part of a date in any year, such as its month or its weekday, within a range of numbers. */
export interface DatePartQuery extends Requested {
  readonly kind: "datePart";
  readonly column: string;
  readonly part: Recurring["name"];
  readonly side: Side;
  /** From one number to another, both included; null where no number is within. */
  readonly within: { readonly from: number; readonly to: number } | null;
}

/** A period as CQL2 writes it: each end a written date, or open. */
export interface WrittenInterval {
  readonly start: Part | null;
  readonly end: Part | null;
}

/** A condition on the period between two columns of dates. */
export interface OverlapQuery extends Requested {
  readonly kind: "overlap";
  readonly start: string;
  readonly end: string;
  readonly side: Side;
  readonly relations: readonly Relation[];
  readonly interval: WrittenInterval;
  readonly openStart: boolean;
  readonly openEnd: boolean;
  /** As of a {@link DateQuery}. */
  readonly changesDaily?: true;
}

/** A condition on a column of strings: that it is the name of the caller, or what a claim says of them. */
export interface CallerQuery extends Requested {
  readonly kind: "caller";
  readonly column: string;
  /** The name of the claim; null for the caller's own name. */
  readonly claim: string | null;
  readonly side: Side;
  readonly caseSensitive: boolean;
}

/** A condition that means the same at any moment and for every caller. */
export type FixedCondition = Exclude<Condition, DateCondition | OverlapCondition>;

export interface ValueQuery extends Requested {
  readonly kind: "value";
  readonly condition: FixedCondition;
}

/** A condition on a column that is worked out of others, and what it means for these. */
export interface DerivedQuery extends Requested {
  readonly kind: "derived";
  /** As it was requested, of the derived column. */
  readonly condition: FixedCondition;
  readonly of: Query;
}

export type QueryCondition = DateQuery | DatePartQuery | OverlapQuery | CallerQuery | ValueQuery;

interface Group {
  /** Names the group within its query, to edit it; groups of a filter have one. */
  readonly id?: string;
}

/**
 * What was requested, unresolved: a tree of conditions with their windows as written. `all` of
 * nothing matches every record, `any` of nothing matches none.
 */
export type Query =
  | (Group & { readonly kind: "all"; readonly of: readonly Query[] })
  | (Group & { readonly kind: "any"; readonly of: readonly Query[] })
  | (Group & { readonly kind: "not"; readonly of: Query })
  | DerivedQuery
  | QueryCondition;

/** The query that matches every record. */
export const ANY_RECORD: Query = { kind: "all", of: [] };

/** The query that matches none; also stands for a condition that could not be read. */
export const NO_RECORD: Query = { kind: "any", of: [] };

/** The parts of a query that must all hold. */
export function conjunctsOf(query: Query): readonly Query[] {
  return query.kind === "all" ? query.of.flatMap(conjunctsOf) : [query];
}

/** Every condition of a query, in order. */
export function conditionsIn(query: Query): readonly QueryCondition[] {
  switch (query.kind) {
    case "all":
    case "any":
      return query.of.flatMap(conditionsIn);
    case "not":
    case "derived":
      return conditionsIn(query.of);
    default:
      return [query];
  }
}

/** Where a part of a query came from: of several conditions the first; null for none. */
export function originOf(query: Query): Origin | null {
  switch (query.kind) {
    case "all":
    case "any":
      return query.of.map(originOf).find((each) => each !== null) ?? null;
    case "not":
      return originOf(query.of);
    default:
      return query.origin;
  }
}

/** The same tree with every condition replaced by what a function makes of it. */
export function mapConditions(query: Query, make: (condition: QueryCondition) => Query): Query {
  switch (query.kind) {
    case "all":
    case "any":
      return { ...query, of: query.of.map((each) => mapConditions(each, make)) };
    case "not":
      return { ...query, of: mapConditions(query.of, make) };
    case "derived":
      return query;
    default:
      return make(query);
  }
}

/** A filter of conditions that never move, as a query. */
export function queryOfValues(filter: Filter, origin: Origin, id: string): Query {
  switch (filter.kind) {
    case "all":
    case "any":
      return {
        kind: filter.kind,
        of: filter.of.map((each, index) => queryOfValues(each, origin, `${id}.${index}`)),
      };
    case "not":
      return { kind: "not", of: queryOfValues(filter.of, origin, `${id}.0`) };
    case "date":
    case "overlap":
      throw new Error(`a ${filter.kind} condition is requested as a window`);
    default:
      return { kind: "value", id, origin, condition: filter };
  }
}

/**
 * What a date is compared with, from a comparison and a window. `on A/B` is between A and B, `on A/..` is
 * from A, and a window of one part is that part: however a window came, it has one form.
 */
export function dateTest(comparison: DateComparison, window: Window): DateTest {
  const [{ range, recurring }, another] = window.alternatives as readonly [
    Alternative,
    Alternative | undefined,
  ];
  if (another !== undefined || recurring.length > 0) return windowTest(comparison, window);
  if (range.kind === "part") return { kind: "part", comparison, part: range.part };
  if (range.kind !== "ends" || comparison !== "on") return windowTest(comparison, window);
  const { start, end } = range;
  if (start !== null && end !== null) {
    return {
      kind: "between",
      start: { comparison: "from", part: start },
      end: { comparison: "to", part: end },
      maySwap: true,
    };
  }
  if (start !== null) return { kind: "part", comparison: "from", part: start };
  return end === null
    ? windowTest(comparison, window)
    : { kind: "part", comparison: "to", part: end };
}

function windowTest(comparison: DateComparison, window: Window): DateTest {
  return { kind: "window", comparison: comparison === "notOn" ? "notOn" : "on", window };
}

/** What lies between two written dates that are never swapped; null for an open end. */
export function periodTest(start: Part | null, end: Part | null): DateTest {
  if (start !== null && end !== null) {
    return {
      kind: "between",
      start: { comparison: "from", part: start },
      end: { comparison: "to", part: end },
      maySwap: false,
    };
  }
  if (start !== null) return { kind: "part", comparison: "from", part: start };
  if (end !== null) return { kind: "part", comparison: "to", part: end };
  return { kind: "window", comparison: "on", window: ALL_DATES };
}

const ALL_DATES: Window = {
  alternatives: [{ range: { kind: "ends", start: null, end: null }, recurring: [] }],
};

/** A window of one written date. */
export function windowOfPart(part: Part): Window {
  return { alternatives: [{ range: { kind: "part", part }, recurring: [] }] };
}
