import { filterInWords, type Filter } from "../filters/index.js";
import type { ListingDeclaration } from "./declaration.js";
import { orderInWords } from "./order.js";
import type { PlannedRequest } from "./request.js";
import { blanksInWords, endsInWords } from "./words.js";

/** One part of what a listing is asked for, short enough to stand in a sentence. */
export interface Clause {
  /** The parameters that it comes from; none where it is known by its column alone. */
  readonly parameters: readonly string[];
  /** The column that it speaks of; null for one of several. */
  readonly column: string | null;
  /** Of a compound condition: its place among those that all must hold, from 0. */
  readonly part?: number;
  readonly words: string;
}

/**
 * The parts of a request in words, each of which can be changed by itself: those of dates, those
 * of values, those of the compound condition, and the order at the end.
 *
 * @example clausesOf(listing, planned) // "raised from 1 February 2025", "status not finished", "newest first"
 */
export function clausesOf(listing: ListingDeclaration, planned: PlannedRequest): readonly Clause[] {
  const { labels = {} } = listing;
  const named = (column: string) => labels[column] ?? column;
  const dates = planned.conditions.map((each): Clause => {
    const { column } = each.condition;
    const words = `${named(column)} ${endsInWords(each)}${blanksInWords(each)}`;
    return {
      parameters: each.parameters.map(({ declaration }) => declaration.name),
      column,
      words,
    };
  });
  const values = planned.values.map(({ parameters, filter }): Clause => {
    const column = "column" in filter ? filter.column : null;
    const names = parameters.map(({ declaration }) => declaration.name);
    return { parameters: names, column, words: shortWords(filter, named) };
  });
  const compound = partsOf(planned).map((filter, part): Clause => {
    const plain = filter.kind === "not" ? filter.of : filter;
    const column = "column" in plain ? plain.column : null;
    return { parameters: ["filter"], column, part, words: shortWords(filter, named) };
  });
  const order: Clause = {
    parameters: ["order"],
    column: planned.order.column,
    words: orderInWords(listing, planned.order),
  };
  return [...dates, ...values, ...compound, order];
}

function partsOf({ compound }: PlannedRequest): readonly Filter[] {
  if (compound === null) return [];
  const { filter } = compound;
  return filter.kind === "all" ? filter.of : [filter];
}

/** Values that a clause names one by one at most. */
const MOST_NAMED = 6;

function shortWords(filter: Filter, named: (column: string) => string): string {
  if (filter.kind === "not" && filter.of.kind === "oneOf") {
    const { side } = filter.of;
    return shortWords({ ...filter.of, side: side === "inside" ? "outside" : "inside" }, named);
  }
  if (filter.kind === "oneOf") {
    const { column, side, values, blanks } = filter;
    if (blanks === "only") return `${named(column)} blank`;
    const list =
      values.length > MOST_NAMED
        ? [...values.slice(0, MOST_NAMED - 1), `${values.length - MOST_NAMED + 1} others`]
        : values;
    const words = joined(list.map(plain), side === "inside" ? "or" : "nor");
    const not = side === "inside" ? "" : list.length === 1 ? "not " : "neither ";
    return `${named(column)} ${not}${words}${blanks === "keep" ? ", or blank" : ""}`;
  }
  const words = filterInWords(filter);
  if (!("column" in filter)) return words;
  return `${named(filter.column)}${words.slice(filter.column.length)}`;
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
