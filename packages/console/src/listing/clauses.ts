import type { ListingDetails } from "@orisma/client";
import { ANY_RECORD, replacePart, type Clause, type RecordsAnswer } from "@orisma/core/internal";
import { queryIn, withParts } from "./conditions.js";
import { hasDefault } from "./narrowing.js";
import { namesOf, valueOf, withParameters, type PageState } from "./state.js";

/** The extents that stand in what is not given: they are said, and are no conditions. */
export function extentClauses(
  { parameters, labels = {} }: ListingDetails,
  answer: RecordsAnswer | undefined,
): readonly Clause[] {
  const shown = answer?.meta.shown ?? {};
  const columns = new Set(
    parameters.flatMap(({ name, column }) => (Object.hasOwn(shown, name) ? (column ?? []) : [])),
  );
  return [...columns].map((column) => {
    const own = parameters.filter(
      (each) => each.column === column && Object.hasOwn(shown, each.name),
    );
    const ends = own.map(({ name, label, comparison }) => `${label ?? comparison} ${shown[name]}`);
    return {
      parameters: own.map(({ name }) => name),
      column,
      words: `${labels[column] ?? column} ${ends.join(" ")}, as far as there is`,
    };
  });
}

/** What was requested as it was written, until an answer has it in words. */
export function requestedClauses(listing: ListingDetails, state: PageState): readonly Clause[] {
  const { labels = {} } = listing;
  const given = listing.parameters.filter(({ name }) => (state[name] ?? []).length > 0);
  // The ends of a pair are one clause, as in the answer, which so takes the place of this one.
  const ends = ({ pair, column }: (typeof given)[number]) =>
    given.filter((each) => each.pair === pair && each.column === column);
  const clauses = given.flatMap((parameter): readonly Clause[] => {
    const of = parameter.pair === undefined ? [parameter] : ends(parameter);
    if (of[0] !== parameter) return [];
    const { name, column, label } = parameter;
    const values = of.flatMap((each) => state[each.name] ?? []);
    const words = `${label ?? labels[column ?? ""] ?? column ?? name} ${values.join(", ")}`;
    return [{ parameters: of.map((each) => each.name), column: column ?? null, words }];
  });
  const filter = valueOf(state, "filter");
  return filter === ""
    ? clauses
    : [...clauses, { parameters: ["filter"], column: null, words: filter }];
}

/** The parameters that say a clause: of a pair both, since the blanks of one are those of the other. */
export function sayingIt(
  { parameters }: ListingDetails,
  clause: Clause,
): ListingDetails["parameters"] {
  const own = parameters.filter(
    ({ name, column }) =>
      clause.parameters.includes(name) ||
      (clause.parameters.length === 0 && column === clause.column),
  );
  return parameters.filter(
    (each) =>
      own.includes(each) || (each.pair !== undefined && own.some(({ pair }) => pair === each.pair)),
  );
}

/** Whether a clause can be taken away: what must be given, and what is only shown, stays. */
export function canRemove(clause: Clause, listing: ListingDetails, state: PageState): boolean {
  if (clause.parameters.includes("filter")) return true;
  return sayingIt(listing, clause).some(
    (parameter) =>
      hasDefault(parameter) || namesOf(parameter).some((name) => Object.hasOwn(state, name)),
  );
}

/** The page without what one clause says. */
export function withoutClause(
  state: PageState,
  listing: ListingDetails,
  clause: Clause,
): PageState {
  if (clause.parameters.includes("filter")) {
    const query = queryIn(valueOf(state, "filter"), listing);
    if (query === null || clause.id === undefined) return withParameters(state, { filter: [] });
    const rest = replacePart(query, clause.id, null);
    return withParts(state, listing, rest === ANY_RECORD ? [] : [rest]);
  }
  const said = sayingIt(listing, clause);
  const none = said.flatMap(namesOf).map((name) => [name, []] as const);
  // Not given would be the default once more.
  const any = said.filter(hasDefault).map(({ name }) => [name, ".."] as const);
  return withParameters(state, Object.fromEntries<string | readonly string[]>([...none, ...any]));
}
