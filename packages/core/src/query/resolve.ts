import type { Interval } from "../calendar/index.js";
import {
  failure,
  fault,
  withLocation,
  success,
  type Fault,
  type Notice,
  type Result,
} from "../faults/index.js";
import {
  NOTHING,
  edgeFaults,
  forColumn,
  patternOf,
  type Catalogue,
  type DateCondition,
  type Filter,
} from "../filters/index.js";
import {
  ISO_CALENDAR,
  MAX_LISTED_INTERVALS,
  resolvePart,
  type Recurring,
  type WindowContext,
} from "../windows/index.js";
import type {
  CallerQuery,
  DatePartQuery,
  DateQuery,
  DateTest,
  OverlapQuery,
  Query,
  QueryCondition,
  WrittenInterval,
} from "./query.js";
import type { DateKind } from "../reading/index.js";
import { resolveDates, withinCalendar, type ResolvedDates } from "./resolve-dates.js";

/** What is known of a caller, by name: one value or several. */
export type Claims = Readonly<Record<string, readonly string[]>>;

/** What the meaning of a query depends on: nothing here reads a clock. */
export interface ResolveContext {
  /** Of windows; whether days are whole is known by the column. */
  readonly window: Omit<WindowContext, "wholeDays">;
  readonly columns: Catalogue;
  /** The name that `caller()` stands for; null where nobody is known to ask. */
  readonly caller: string | null;
  /** What `caller('lock')` stands for, by the name of the claim; undefined where nobody asks: it stands for itself. */
  readonly claims?: Claims;
}

/** A condition on dates at a moment, as it was applied. */
export interface ResolvedDateQuery {
  readonly query: DateQuery;
  /** What each of its tests came to. */
  readonly tests: readonly ResolvedDates[];
  readonly filter: DateCondition;
  /** What the column holds. */
  readonly kind: DateKind;
}

/** A query at a moment. */
export interface ResolvedQuery {
  readonly filter: Filter;
  /** The conditions on dates, wherever they stand in the tree, in order. */
  readonly dates: readonly ResolvedDateQuery[];
  /** What each condition of the tree came to. */
  readonly filters: ReadonlyMap<QueryCondition, Filter>;
  readonly notices: readonly Notice[];
}

/**
 * Resolves a query for a moment, a zone and a caller.
 *
 * Fails with every fault at once, each at the parameter or the place that it came from, with its
 * column: those of {@link resolveDates}, and {@link edgeFaults} in filters.
 */
export function resolveQuery(query: Query, context: ResolveContext): Result<ResolvedQuery> {
  const resolver = new Resolver(context);
  const filter = resolver.filter(query);
  const { faults, dates, filters, notices } = resolver;
  return faults.length > 0 ? failure(...faults) : success({ filter, dates, filters, notices });
}

/** A part of a resolved query by itself. */
export function filterOfPart(part: Query, resolved: ResolvedQuery): Filter {
  switch (part.kind) {
    case "all":
    case "any":
      return { kind: part.kind, of: part.of.map((each) => filterOfPart(each, resolved)) };
    case "not":
      return { kind: "not", of: filterOfPart(part.of, resolved) };
    case "derived":
      return filterOfPart(part.of, resolved);
    default:
      return resolved.filters.get(part) ?? NOTHING;
  }
}

class Resolver {
  readonly faults: Fault[] = [];
  readonly dates: ResolvedDateQuery[] = [];
  readonly filters = new Map<QueryCondition, Filter>();
  readonly notices: Notice[] = [];

  constructor(private readonly context: ResolveContext) {}

  filter(query: Query): Filter {
    switch (query.kind) {
      case "all":
      case "any":
        return { kind: query.kind, of: query.of.map((each) => this.filter(each)) };
      case "not":
        return { kind: "not", of: this.filter(query.of) };
      case "derived":
        return this.filter(query.of);
      default: {
        const filter = this.#condition(query);
        this.filters.set(query, filter);
        return filter;
      }
    }
  }

  #condition(query: QueryCondition): Filter {
    switch (query.kind) {
      case "value":
        return query.condition;
      case "caller":
        return this.#caller(query);
      case "date":
        return this.#date(query);
      case "datePart":
        return this.#datePart(query);
      case "overlap":
        return this.#overlap(query);
    }
  }

  #caller({ column, side, caseSensitive, claim }: CallerQuery): Filter {
    const common = { column, side, caseSensitive, blanks: "exclude" } as const;
    if (claim === null) {
      return { kind: "text", pattern: patternOf("is", this.context.caller ?? ""), ...common };
    }
    const { claims } = this.context;
    const values = claims !== undefined && Object.hasOwn(claims, claim) ? claims[claim] : undefined;
    // Without it neither this nor its opposite says anything: the request is refused.
    if (claims !== undefined && values === undefined) {
      this.faults.push(fault("caller.noClaim", { claim }));
    }
    return { kind: "oneOf", values: values ?? [`caller('${claim}')`], ...common };
  }

  #date(query: DateQuery): Filter {
    const { column, blanks, origin } = query;
    const kind = this.#kindOf(column);
    const context = { ...this.context.window, wholeDays: kind === "date" };
    const tests =
      query.endsWithCalendar === true
        ? query.tests.flatMap((test) => withinCalendar(test, context) ?? [])
        : query.tests;
    const names = origin.kind === "parameter" ? origin.names : [column];
    const found: ResolvedDates[] = [];
    for (const test of tests) {
      const resolved = resolveDates(test, { names, notices: query.notices }, context);
      if (resolved.ok) found.push(resolved.value);
      else this.faults.push(...resolved.faults.map((each) => atOrigin(each, query)));
    }
    const condition: DateCondition = {
      kind: "date",
      column,
      side: tests.some(isNegative) ? "outside" : "inside",
      intervals: found.flatMap(({ intervals }) => intervals),
      recurring: found.flatMap(({ recurring }) => recurring),
      blanks,
    };
    this.#checkEdges(column, condition.intervals, query);
    this.dates.push({ query, tests: found, filter: condition, kind: kind ?? "date" });
    this.notices.push(...found.flatMap(({ notices }) => notices.filter(isReported(kind))));
    const filter = forColumn(condition, this.context.columns);
    if (filter.kind === "partial" && condition.recurring.length > 0) {
      const facts = { name: column, most: MAX_LISTED_INTERVALS };
      this.faults.push(atOrigin(fault("column.partial", facts), query));
    }
    return filter;
  }

  #datePart({ column, part, side, within }: DatePartQuery): Filter {
    const { calendar = ISO_CALENDAR, zone } = this.context.window;
    const { weekStart, firstWeekDays } = calendar;
    const rules = within === null ? [] : [{ name: part, spans: [{ ...within, nth: null }] }];
    const interval = {
      interval: { start: null, end: null },
      rules: rules as readonly Recurring[],
      weeks: { weekStart, firstWeekDays },
      zone: zone.id,
    };
    const recurring = within === null ? [] : [interval];
    // To all but windows a date without a day is its first day.
    return { kind: "date", column, side, intervals: [], recurring, blanks: "exclude" };
  }

  #overlap(query: OverlapQuery): Filter {
    const { start, end, side, relations, openStart, openEnd } = query;
    const interval = this.#written(query.interval, query);
    if (interval !== null) this.#checkEdges(start, [interval], query);
    return {
      kind: "overlap",
      start,
      end,
      side,
      relations,
      intervals: interval === null ? [] : [interval],
      openStart,
      openEnd,
    };
  }

  /** A period whose ends are never swapped; null where an end covers nothing. */
  #written({ start, end }: WrittenInterval, query: OverlapQuery): Interval | null {
    const spans = [start, end].map((part) => {
      if (part === null) return null;
      const resolved = resolvePart(part, { ...this.context.window });
      if (resolved.ok) return resolved.value.span;
      this.faults.push(...resolved.faults.map((each) => atOrigin(each, query)));
      return null;
    });
    const [from = null, to = null] = spans;
    if ((start !== null && from === null) || (end !== null && to === null)) return null;
    return { start: from?.start ?? null, end: to?.end ?? null };
  }

  /** What a parameter takes is declared; a filter can compare a column of days with any moment. */
  #checkEdges(column: string, intervals: readonly Interval[], query: QueryCondition): void {
    if (query.origin.kind === "parameter") return;
    const faults = edgeFaults(column, intervals, this.context.columns);
    this.faults.push(...faults.map((each) => atOrigin(each, query)));
  }

  #kindOf(column: string) {
    const found = this.context.columns.get(column);
    return found?.type === "date" ? found.kind : null;
  }
}

function isNegative(test: DateTest): boolean {
  return test.kind !== "between" && test.comparison === "notOn";
}

/** On days and wall-clock times the wall face of an edge is compared, which is never in doubt. */
function isReported(kind: string | null): (notice: Notice) => boolean {
  return ({ code }) => kind === "instant" || (code !== "edge.repeated" && code !== "edge.skipped");
}

/** A fault at the parameter or the place that a condition came from. */
export function atOrigin(found: Fault, { origin, ...condition }: QueryCondition): Fault {
  if (origin.kind !== "parameter") {
    const { path } = origin;
    const column = condition.kind === "date" ? { column: condition.column } : {};
    return withLocation(found, {
      ...(path === undefined || path === "" ? {} : { path }),
      ...column,
    });
  }
  const { value } = found;
  const sent = origin.sent.find(({ raw }) => raw === value) ?? origin.sent.at(-1);
  if (sent === undefined) return found;
  return withLocation(found, { parameter: sent.parameter, value: sent.raw });
}
