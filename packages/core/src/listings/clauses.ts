import { filterInWords, type ColumnNaming, type Filter } from "../filters/index.js";
import {
  columnOfPart,
  originOf,
  queryInWords,
  shortDateWords,
  type Query,
  type ResolvedQuery,
} from "../query/index.js";
import type { ListingDeclaration } from "./declaration.js";
import { orderInWords } from "./order.js";
import type { PlannedRequest } from "./planned.js";
import { isOfFilter, namingOf, requestedParts } from "./words.js";

/** One condition of a request, short enough to stand in a sentence. */
export interface Clause {
  /** The parameters that it comes from; none where it is known by its column alone. */
  readonly parameters: readonly string[];
  /** The column that it speaks of; null for one of several. */
  readonly column: string | null;
  /** Of a condition of the filter: the id of its part of the query, by which it is edited. */
  readonly id?: string;
  /** Whether it is of the listing's own filter, which no caller can change. */
  readonly isFixed?: true;
  readonly words: string;
}

/**
 * The parts of a request in words, each of which can be changed by itself: those of dates, those
 * of values, those of the filter, and the order at the end. Those of the fixed filter come first.
 *
 * @example clausesOf(listing, planned) // "raised from 1 February 2025", "status not finished", "latest first"
 */
export function clausesOf(listing: ListingDeclaration, planned: PlannedRequest): readonly Clause[] {
  const naming = namingOf(listing);
  const parts = requestedParts(planned);
  const clauses = parts.map((part): Clause => {
    const words = clauseWords(part, planned.requested, naming);
    if (isOfFilter(part)) {
      return {
        parameters: ["filter"],
        column: columnOfPart(part),
        ...(part.id === undefined ? {} : { id: part.id }),
        words,
      };
    }
    const origin = originOf(part);
    const parameters = origin?.kind === "parameter" ? origin.names : [];
    return { parameters, column: columnOfPart(part), words };
  });
  const order: Clause = {
    parameters: ["order"],
    column: planned.order.column,
    words: orderInWords(listing, planned.order),
  };
  const fixed = planned.fixedWords.map((words): Clause => ({
    parameters: [],
    column: null,
    isFixed: true,
    words,
  }));
  return [...fixed, ...clauses, order];
}

function clauseWords(part: Query, resolved: ResolvedQuery, naming: ColumnNaming): string {
  if (part.kind === "date") {
    const dates = resolved.dates.find(({ query }) => query === part);
    if (dates !== undefined) return shortDateWords(dates, naming(part.column));
  }
  const values = plainFilter(part, resolved);
  return values === null ? queryInWords(part, resolved, naming) : shortWords(values, naming);
}

/** What a condition on values, or its negation, comes to; null for any other part. */
function plainFilter(part: Query, resolved: ResolvedQuery): Filter | null {
  if (part.kind === "not") {
    const of = plainFilter(part.of, resolved);
    return of === null ? null : { kind: "not", of };
  }
  if (part.kind === "derived") return part.condition;
  if (part.kind === "all" || part.kind === "any" || part.kind === "date") return null;
  return resolved.filters.get(part) ?? null;
}

/** Values that a clause names one by one at most. */
const MAX_NAMED = 6;

function shortWords(filter: Filter, naming: ColumnNaming): string {
  if (filter.kind === "not" && filter.of.kind === "oneOf") {
    const { side } = filter.of;
    return shortWords({ ...filter.of, side: side === "inside" ? "outside" : "inside" }, naming);
  }
  if (filter.kind === "oneOf") {
    const { column, side, values, blanks } = filter;
    if (blanks === "only") return `${naming(column)} blank`;
    const list =
      values.length > MAX_NAMED
        ? [...values.slice(0, MAX_NAMED - 1), `${values.length - MAX_NAMED + 1} others`]
        : values;
    const words = joined(list.map(plain), side === "inside" ? "or" : "nor");
    const not = side === "inside" ? "" : list.length === 1 ? "not " : "neither ";
    return `${naming(column)} ${not}${words}${blanks === "include" ? ", or blank" : ""}`;
  }
  return filterInWords(filter, naming);
}

/** A value that could be taken for the words around it stands in quotes. */
function plain(value: string): string {
  return /^[\p{L}\p{N}][\p{L}\p{N} ._-]*$/u.test(value) && !/(?:^| )(?:or|nor)(?: |$)/.test(value)
    ? value
    : `“${value}”`;
}

function joined(list: readonly string[], word: string): string {
  const last = list.at(-1) ?? "nothing";
  return list.length < 2 ? last : `${list.slice(0, -1).join(", ")} ${word} ${last}`;
}
