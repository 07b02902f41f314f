import type { ListingDetails } from "@orisma/client";

/** What the address says of a listing's page: parameters, order, place. */
export type PageState = Readonly<Record<string, string>>;

/** Reads the state of a page from its address. */
export function stateOf(search: URLSearchParams): PageState {
  return Object.fromEntries([...search].filter(([, value]) => value !== ""));
}

/** The address of a state; empty values are left out. */
export function searchOf(state: PageState): URLSearchParams {
  return new URLSearchParams(Object.entries(state).filter(([, value]) => value !== ""));
}

/** The state with other parameters, from its first page. */
export function withParameters(state: PageState, changed: PageState): PageState {
  const { cursor: _dropped, ...rest } = state;
  return { ...rest, ...changed };
}

/** The state without any of the listing's own parameters, which is how it is first seen. */
export function cleared(state: PageState, { parameters }: ListingDetails): PageState {
  const none = parameters.flatMap(({ name }) => [
    [name, ""],
    [`${name}.blank`, ""],
  ]);
  return withParameters(state, Object.fromEntries(none) as PageState);
}
