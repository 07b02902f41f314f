import type { ListingDetails } from "@orisma/client";
import {
  NAMED_WINDOWS,
  allOf,
  columnOfPart,
  cql2OfQuery,
  cql2Text,
  readCql2Query,
  typedExpression,
  windowsByName,
  type Cql2Reading,
  type Expression,
  type Query,
  type TypedComparison,
  type TypedCondition,
  type PhraseContext,
} from "@orisma/core/internal";
import { valueOf, withParameters, type PageState } from "./state.js";

/** What the filter of a listing is read with. */
export function filterReading(listing: ListingDetails): Cql2Reading {
  const held = readings.get(listing);
  if (held !== undefined) return held;
  const columns = listing.filterColumns.map(
    ({ name, type, kind = "date" }) =>
      [name, type === "date" ? { name, type, kind } : { name, type }] as const,
  );
  const clause: Cql2Reading = {
    columns: new Map(columns),
    knowsCaller: true,
    named: windowsByName([...NAMED_WINDOWS, ...listing.namedWindows]),
    from: "filter",
  };
  readings.set(listing, clause);
  return clause;
}

const readings = new WeakMap<ListingDetails, Cql2Reading>();

/** A filter as callers may send it, as text or as JSON, also with phrases for dates; null where it cannot be read. */
export function queryIn(
  source: string,
  listing: ListingDetails,
  phrases?: PhraseContext,
): Query | null {
  const document = source.trimStart().startsWith("{") ? parsedJson(source) : source;
  const read = readCql2Query(document, { ...filterReading(listing), ...(phrases && { phrases }) });
  return read.ok ? read.value : null;
}

function parsedJson(source: string): unknown {
  try {
    return JSON.parse(source);
  } catch {
    return null;
  }
}

/** A query as the text of a filter. */
export function filterText(query: Query, listing: ListingDetails): string {
  return cql2Text(cql2OfQuery(query, filterReading(listing).columns));
}

/** The parts of a page's filter that must all hold; null where its text cannot be read. */
export function partsOf(state: PageState, listing: ListingDetails): readonly Query[] | null {
  const source = valueOf(state, "filter");
  if (source.trim() === "") return [];
  const query = queryIn(source, listing);
  if (query === null) return null;
  return query.kind === "all" ? query.of : [query];
}

/** The page with other parts of its filter, from its first page. */
export function withParts(
  state: PageState,
  listing: ListingDetails,
  parts: readonly Query[],
): PageState {
  const filter = parts.length === 0 ? [] : filterText(allOf(parts, "filter"), listing);
  return withParameters(state, { filter });
}

/** A condition on a column as an editor has it. */
export function typed(
  column: string,
  comparison: TypedComparison,
  values: readonly string[] = [],
  more: Partial<Pick<TypedCondition, "isNegated" | "caseSensitive">> = {},
): TypedCondition {
  return { column, comparison, values, isNegated: false, ...more };
}

/**
 * The page with these conditions on a column in place of the simple ones that it has. What does not fit
 * the column is sent as it is typed, for the service to say so.
 */
export function withConditionsOn(
  state: PageState,
  listing: ListingDetails,
  column: string,
  conditions: readonly (TypedCondition | Query)[],
): PageState {
  const { columns } = filterReading(listing);
  const others = (partsOf(state, listing) ?? []).filter((each) => columnOfPart(each) !== column);
  const args = [...others, ...conditions].flatMap((each): readonly Expression[] => {
    if ("kind" in each) return [cql2OfQuery(each, columns)];
    const expression = typedExpression(each);
    return expression === null ? [] : [expression];
  });
  const [only] = args;
  if (only === undefined) return withParameters(state, { filter: [] });
  const whole = args.length === 1 ? only : { op: "and", args };
  return withParameters(state, { filter: cql2Text(whole) });
}
