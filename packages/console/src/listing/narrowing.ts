import type { ListingDetails } from "@orisma/client";
import {
  EXTENT,
  compileDateForm,
  isNotGiven,
  leavesIso,
  readBoolean,
  columnOfPart,
  takesDates,
  typedCondition,
  type DateParameter,
  type ParameterDeclaration,
  type TypedCondition,
} from "@orisma/core/internal";
import { partsOf, typed, withConditionsOn } from "./conditions.js";
import { namesOf, valueOf, withParameters, type PageState } from "./state.js";

export type ShownColumn = ListingDetails["shown"][number];

/** The parameters that speak of a column, one that looks into several not among them. */
export function parametersOn(
  { parameters }: ListingDetails,
  column: string,
): readonly ParameterDeclaration[] {
  return parameters.filter((parameter) => parameter.column === column);
}

/** Whether callers may speak of a column in a compound condition. */
export function isCompoundOn(listing: ListingDetails, column: string): boolean {
  return listing.filterColumns.some(({ name }) => name === column);
}

/** Whether there is any way to narrow a column. */
export function canNarrow(listing: ListingDetails, column: string): boolean {
  return parametersOn(listing, column).length > 0 || isCompoundOn(listing, column);
}

/** The columns that can be narrowed, in the order in which they are shown. */
export function narrowable(listing: ListingDetails): readonly ShownColumn[] {
  return listing.shown.filter(({ name }) => canNarrow(listing, name));
}

/** The columns that a page shows, in their order. */
export function shownIn(
  { shown }: ListingDetails,
  { columns = [] }: PageState,
): readonly ShownColumn[] {
  if (columns.length === 0) return shown;
  return columns.flatMap((name) => shown.find((column) => column.name === name) ?? []);
}

/** A default that is a condition, and that a caller may do without. */
export function hasDefault({ default: fallback, required }: ParameterDeclaration): boolean {
  return fallback !== undefined && fallback !== EXTENT && required !== true;
}

/** The page without any condition on a column, that of a default included. */
export function withoutColumn(
  state: PageState,
  listing: ListingDetails,
  column: string,
): PageState {
  const own = parametersOn(listing, column);
  const none = own.flatMap(namesOf).map((name) => [name, []] as const);
  // Not given would be the default once more.
  const any = own.filter(hasDefault).map(({ name }) => [name, ".."] as const);
  const said = Object.fromEntries<string | readonly string[]>([...none, ...any]);
  const rest = withParameters(state, said);
  const isThere = (partsOf(rest, listing) ?? []).some((each) => columnOfPart(each) === column);
  return isThere ? withConditionsOn(rest, listing, column, []) : rest;
}

/** The page with a condition in place of all that it says of the column. */
export function withCondition(
  state: PageState,
  listing: ListingDetails,
  condition: TypedCondition,
): PageState {
  const { column } = condition;
  return withConditionsOn(withoutColumn(state, listing, column), listing, column, [condition]);
}

/** Whether a parameter takes a value as it is: one of its own, where it has some, and no word for "any". */
export function takesValue(parameter: ParameterDeclaration, value: string): boolean {
  if (value.trim() === "..") return false;
  return takesDates(parameter) || (parameter.values?.includes(value) ?? true);
}

/** The page of the records that have yes, or no, in a column; null where there is no way to say it. */
export function withYes(
  state: PageState,
  listing: ListingDetails,
  column: string,
  yes: boolean,
): PageState | null {
  const parameter = yesParameter(listing, column);
  if (parameter !== undefined) {
    const said = (parameter.comparison === "isNot") === yes ? "no" : "yes";
    return withParameters(withoutColumn(state, listing, column), { [parameter.name]: said });
  }
  if (!isCompoundOn(listing, column)) return null;
  return withCondition(state, listing, typed(column, "yes", [], { isNegated: !yes }));
}

/** Whether a page asks for yes, or for no, in a column; null where it asks for neither. */
export function requestedYes(
  state: PageState,
  listing: ListingDetails,
  column: string,
): boolean | null {
  const parameter = yesParameter(listing, column);
  if (parameter !== undefined) {
    const fallback = hasDefault(parameter) ? String(parameter.default) : "";
    const said = readBoolean(valueOf(state, parameter.name) || fallback);
    return said === null ? null : (parameter.comparison === "isNot") !== said;
  }
  const own = (partsOf(state, listing) ?? []).filter((each) => columnOfPart(each) === column);
  const found = own.map(typedCondition).find((each) => each?.comparison === "yes");
  return found == null ? null : !found.isNegated;
}

function yesParameter(listing: ListingDetails, column: string): ParameterDeclaration | undefined {
  return parametersOn(listing, column).find(({ type }) => type === "boolean");
}

/**
 * The page narrowed to a window of a column, by the parameter that takes it as it is written, else by
 * a pair of its ends, else by a condition; null where the listing has no way to say it.
 */
export function withWindow(
  state: PageState,
  listing: ListingDetails,
  column: string,
  window: string,
): PageState | null {
  const dates = parametersOn(listing, column).filter(takesDates);
  const clear = withoutColumn(state, listing, column);
  const whole = dates.find(({ type, comparison }) => type === "window" && comparison === "on");
  const { from, to } = endParameters(dates);
  const ends = endsOf(window);
  // The lowest date there is stands for none in a parameter.
  const takes = (parameter: DateParameter | undefined, text: string | undefined) =>
    text === undefined || (parameter !== undefined && !isNotGiven(text));
  if (ends !== null && takes(from, ends.from) && takes(to, ends.to)) {
    return withParameters(clear, {
      ...(from === undefined || ends.from === undefined ? {} : { [from.name]: ends.from }),
      ...(to === undefined || ends.to === undefined ? {} : { [to.name]: ends.to }),
      ...blanksOf(state, [from, to]),
    });
  }
  if (whole !== undefined && takes(whole, window)) {
    return withParameters(clear, { [whole.name]: window, ...blanksOf(state, [whole]) });
  }
  if (isCompoundOn(listing, column)) {
    return withConditionsOn(clear, listing, column, [typed(column, "on", [window])]);
  }
  const one = dates.filter(takesIso).find(({ comparison }) => comparison === "on");
  const isOne = ends?.from !== undefined && ends.from === ends.to;
  return one !== undefined && isOne && takes(one, ends.from)
    ? withParameters(clear, { [one.name]: ends.from })
    : null;
}

/** What a page says of the blanks beside dates, which another window does not change. */
function blanksOf(
  state: PageState,
  parameters: readonly (DateParameter | undefined)[],
): Readonly<Record<string, string>> {
  const said = parameters.flatMap((parameter) => {
    const name = `${parameter?.name ?? ""}.blank`;
    const policy = valueOf(state, name);
    return policy === "include" || policy === "exclude" ? [[name, policy] as const] : [];
  });
  return Object.fromEntries(said);
}

/** Whether a union of windows can be requested of a column. */
export function takesUnions(listing: ListingDetails, column: string): boolean {
  const isWhole = ({ type, comparison }: DateParameter) => type === "window" && comparison === "on";
  return (
    isCompoundOn(listing, column) || parametersOn(listing, column).filter(takesDates).some(isWhole)
  );
}

/** The parameters that are the two ends of an interval, both in. */
export function endParameters(dates: readonly DateParameter[]): {
  readonly from: DateParameter | undefined;
  readonly to: DateParameter | undefined;
} {
  const plain = dates.filter(takesIso);
  return {
    from: plain.find(({ comparison }) => comparison === "from"),
    to: plain.find(({ comparison }) => comparison === "to"),
  };
}

/** Whether a date in ISO 8601 is one to a parameter, whatever else it accepts. */
function takesIso({ accepts }: DateParameter): boolean {
  if (accepts === undefined) return true;
  const form = compileDateForm(accepts);
  return form.ok && leavesIso(form.value);
}

/**
 * The two ends of a window as parameters take them, both in, so that what rolls goes on rolling; null
 * for one that has more than two ends.
 */
export function endsOf(window: string): { readonly from?: string; readonly to?: string } | null {
  if (/[|;]/.test(window)) return null;
  const parts = window.split("/").map((part) => part.trim());
  const [first = "", second] = parts;
  if (parts.length > 2 || first === "" || first.startsWith("P")) return null;
  if (second === undefined) return { from: first, to: first };
  if (second.startsWith("P")) {
    // A length from a day on ends with the last of its days.
    const [, count = "", unit = ""] = /^P(\d+)([DW])$/.exec(second) ?? [];
    const isDay = /^(?:today|tomorrow|yesterday|day[+-]\d+|\d{4}-\d\d-\d\d)$/.test(first);
    const days = Number(count) * (unit === "W" ? 7 : 1) - 1;
    return count === "" || !isDay || days < 0 ? null : { from: first, to: `${first}+P${days}D` };
  }
  return {
    ...(first === ".." ? {} : { from: first }),
    ...(second === ".." ? {} : { to: second }),
  };
}
