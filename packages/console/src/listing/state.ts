import type { ListingDetails } from "@orisma/client";
import type { RenderedFault } from "@orisma/core/internal";

/** What the address says of a listing's page: parameters, order, place; a list is repeated. */
export type PageState = Readonly<Record<string, readonly string[]>>;

/** Reads the state of a page from its address. */
export function stateOf(search: URLSearchParams): PageState {
  const names = [...new Set(search.keys())];
  return withoutEmpty(Object.fromEntries(names.map((name) => [name, search.getAll(name)])));
}

/** The address of a state; empty values are omitted. */
export function searchOf(state: PageState): URLSearchParams {
  const pairs = Object.entries(withoutEmpty(state)).flatMap(([name, values]) =>
    values.map((value) => [name, value]),
  );
  return new URLSearchParams(pairs);
}

/** The one value of a name, or nothing. */
export function valueOf(state: PageState, name: string): string {
  return state[name]?.[0] ?? "";
}

/** The state with other parameters, from its first page; an empty list takes one away. */
export function withParameters(
  state: PageState,
  changed: Readonly<Record<string, string | readonly string[]>>,
): PageState {
  const { cursor: _dropped, page: _too, ...rest } = state;
  const lists = Object.entries(changed).map(([name, value]): [string, readonly string[]] => [
    name,
    typeof value === "string" ? [value] : value,
  ]);
  return withoutEmpty({ ...rest, ...Object.fromEntries(lists) });
}

/** The state with what was probably meant in place of what a fault refuses: a name, or one of a name's values. */
export function corrected(state: PageState, fault: RenderedFault, meant: string): PageState {
  const { parameter = "", code, value } = fault;
  const values = state[parameter] ?? [];
  if (code === "parameter.unknown") {
    // What the right name has already stays: sent twice, it is asked which is meant.
    return withParameters(state, {
      [parameter]: [],
      [meant]: [...(state[meant] ?? []), ...values],
    });
  }
  if (value === undefined) return withParameters(state, { [parameter]: [meant] });
  // A whole value is that one alone; a name in a filter is a part of the text.
  const isWhole = values.some((each) => each.trim() === value);
  const put = (each: string) => {
    if (!isWhole) return each.replace(value, () => meant);
    return each.trim() === value ? meant : each;
  };
  return withParameters(state, { [parameter]: values.map(put) });
}

/** The state in which a listing is first seen: without any condition, order or columns of the reader. */
export const FIRST_SEEN: PageState = {};

/** The state without any condition of the reader. */
export function cleared(state: PageState, listing: ListingDetails): PageState {
  const names = listing.parameters.flatMap((parameter) => namesOf(parameter));
  return withParameters(state, Object.fromEntries([...names, "filter"].map((name) => [name, []])));
}

/** The parameters that one declaration comes to in an address. */
export function namesOf(parameter: ListingDetails["parameters"][number]): readonly string[] {
  const fields = "fields" in parameter ? Object.values(parameter.fields ?? {}) : [];
  return [parameter.name, `${parameter.name}.blank`, ...fields];
}

/** The conditions and the order of a view, as they are sent. */
export function sentOf(
  { parameters }: ListingDetails,
  state: PageState,
): Readonly<Record<string, string[]>> {
  const sent = new Set([...parameters.flatMap(namesOf), "filter", "order"]);
  return Object.fromEntries(
    Object.entries(state).flatMap(([name, values]) =>
      sent.has(name) ? [[name, [...values]]] : [],
    ),
  );
}

function withoutEmpty(state: PageState): PageState {
  return Object.fromEntries(
    Object.entries(state)
      .map(([name, values]): [string, readonly string[]] => [
        name,
        values.filter((value) => value !== ""),
      ])
      .filter(([, values]) => values.length > 0),
  );
}
