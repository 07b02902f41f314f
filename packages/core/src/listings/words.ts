import type { Interval } from "../calendar/index.js";
import {
  intervalOf,
  type BlankPolicy,
  type ColumnNaming,
  type DateComparison,
  type RecurringSpan,
} from "../filters/index.js";
import {
  canonicalPart,
  canonicalTest,
  conjunctsOf,
  dateWords,
  originOf,
  queryInWords,
  type DateTest,
  type Query,
  type ResolvedDateQuery,
  type ResolvedQuery,
} from "../query/index.js";
import {
  intervalText,
  partText,
  recurringText,
  type IntervalText,
  type Part,
} from "../windows/index.js";
import { orderInWords } from "./order.js";
import type { ListingDeclaration } from "./declaration.js";
import type { PlannedRequest } from "./planned.js";

/** The window of a condition on dates, as it is sent. */
export interface WindowView extends IntervalText {
  readonly column: string;
  /** The window in its notation, which goes on moving where it was written to. */
  readonly canonical: string;
  /** Which side of it is requested. */
  readonly side: "inside" | "outside";
  /** The IANA name of the zone in which its days begin and end. */
  readonly zone: string;
  readonly blanks: BlankPolicy;
  /** The intervals, where there are more than one or none; `start` and `end` are then those of all. */
  readonly intervals?: readonly IntervalText[];
  /** Parts that recur in an interval. */
  readonly recurring?: readonly RecurringText[];
}

/** A parameter of dates as it was applied, as it is sent. */
export interface AppliedDates extends IntervalText {
  readonly parameter: string;
  /** The text as it came under this name. */
  readonly sent: string;
  readonly comparison: DateComparison;
  /** The date that was applied, in its canonical spelling. */
  readonly value: string;
  /** The window that it stands for. */
  readonly canonical: string;
}

/** Parts that recur within an interval, as they are sent. */
export interface RecurringText extends IntervalText {
  readonly parts: readonly string[];
}

/** What a blank policy does, for an explanation. */
export const BLANKS_EXPLAINED: Readonly<Record<BlankPolicy, string>> = {
  exclude: "blank and unreadable dates are excluded",
  include: "blank dates are included, unreadable ones excluded",
  only: "only blank dates are included",
};

/**
 * The parts of a request that must all hold, each of which can be changed by itself: the conditions of its
 * parameters, those of dates first, then the conditions that its filter joins by AND at the top.
 */
export function requestedParts({
  query,
  filter,
}: Pick<PlannedRequest, "query" | "filter">): readonly Query[] {
  const own = topOf(query).filter((each) => each !== filter?.query);
  const parts = filter === null ? [] : topOf(filter.query);
  return [...own.toSorted((a, b) => rankOf(a) - rankOf(b)), ...parts];
}

function topOf(query: Query): readonly Query[] {
  return query.kind === "all" ? query.of : [query];
}

/** Whether a part of a request is of the caller's own filter. */
export function isOfFilter(part: Query): boolean {
  return originOf(part)?.kind !== "parameter";
}

function rankOf(part: Query): number {
  return part.kind === "date" ? 0 : 1;
}

/**
 * What a listing shows for a request, in a sentence: the column, both ends and whether they
 * are in, the zone, the blanks, the order.
 */
export function sentenceOf(listing: ListingDeclaration, planned: PlannedRequest): string {
  const { requested } = planned;
  const parts = requestedParts(planned).map((part) => partInWords(part, requested, listing));
  const all = [...planned.fixedWords, ...parts];
  const what = all.length === 0 ? "all records" : all.join("; and ");
  return `${listing.title}: ${what}; ${orderInWords(listing, planned.order)}.`;
}

/** One part of what must hold, in full. */
export function partInWords(
  part: Query,
  resolved: ResolvedQuery,
  listing: Pick<ListingDeclaration, "labels" | "zone">,
): string {
  const dates = part.kind === "date" ? datesOf(part, resolved) : undefined;
  const naming = namingOf(listing);
  if (dates !== undefined) return dateWords(dates, naming(dates.query.column), listing.zone);
  return queryInWords(part, resolved, naming);
}

/** What people call the columns of a listing: their labels, or their names. */
export function namingOf({ labels = {} }: Pick<ListingDeclaration, "labels">): ColumnNaming {
  return (column) => (Object.hasOwn(labels, column) ? (labels[column] ?? column) : column);
}

function datesOf(part: Query, { dates }: ResolvedQuery): ResolvedDateQuery | undefined {
  return dates.find(({ query }) => query === part);
}

/** The conditions on dates that must hold, in order; those within NOT and OR are not among them. */
export function requiredDates({
  query,
  requested,
}: Pick<PlannedRequest, "query" | "requested">): readonly ResolvedDateQuery[] {
  const parts = new Set(conjunctsOf(query));
  return requested.dates.filter((each) => parts.has(each.query));
}

/** The windows in which the dates of a request must lie: the same however they were sent. */
export function windowViews(
  planned: Pick<PlannedRequest, "query" | "requested">,
  zone: string,
): readonly WindowView[] {
  return requiredDates(planned).map(({ query, tests, filter }): WindowView => {
    const { column, blanks } = query;
    return {
      column,
      canonical: tests.map(({ applied }) => canonicalTest(applied)).join("|"),
      side: filter.side,
      zone,
      blanks,
      ...extentText(filter.intervals, filter.recurring),
    };
  });
}

/** Both ends of some intervals, and each of them where they are not one. */
function extentText(intervals: readonly Interval[], recurring: readonly RecurringSpan[]) {
  const [first, last] = [intervals[0], intervals.at(-1)];
  const isOne = intervals.length === 1 || (intervals.length === 0 && recurring.length > 0);
  return {
    ...intervalText({ start: first?.start ?? null, end: last?.end ?? null }),
    ...(isOne ? {} : { intervals: intervals.map(intervalText) }),
    ...(recurring.length === 0 ? {} : { recurring: recurring.map(recurringSpanText) }),
  };
}

/** What was applied of each parameter of dates, by name, in its canonical spelling. */
export function appliedDates(planned: Pick<PlannedRequest, "requested">): readonly AppliedDates[] {
  return planned.requested.dates.flatMap(appliedBy);
}

/** What was applied of the parameters of one condition on dates. */
export function appliedBy({ query, tests }: ResolvedDateQuery): readonly AppliedDates[] {
  const { origin } = query;
  const [test] = tests;
  if (origin.kind !== "parameter" || test === undefined) return [];
  const { applied, spans, intervals, recurring } = test;
  return origin.sent.flatMap(({ parameter, raw, form }, index): AppliedDates[] => {
    const named = { parameter, sent: raw };
    if (applied.kind === "window" || form === "window") {
      const text = canonicalTest(applied);
      const isNegative = applied.kind !== "between" && applied.comparison === "notOn";
      const comparison = isNegative ? ("notOn" as const) : ("on" as const);
      const extent = extentText(intervals, recurring);
      return [{ ...named, comparison, value: text, canonical: text, ...extent }];
    }
    const end = endsOf(applied)[index];
    if (end === undefined) return [];
    const { comparison, part } = end;
    const span = spans[index] ?? null;
    const covered = span === null ? [] : [intervalOf(comparison, span)];
    const value = partText(part.base, part.shifts);
    const canonical = canonicalPart(comparison, part);
    return [{ ...named, comparison, value, canonical, ...extentText(covered, []) }];
  });
}

function endsOf(
  test: Exclude<DateTest, { readonly kind: "window" }>,
): readonly { readonly comparison: DateComparison; readonly part: Part }[] {
  return test.kind === "part" ? [test] : [test.start, test.end];
}

/** An interval in which parts recur, as it is sent. */
export function recurringSpanText({ interval, rules }: RecurringSpan): RecurringText {
  return { ...intervalText(interval), parts: rules.map(recurringText) };
}
