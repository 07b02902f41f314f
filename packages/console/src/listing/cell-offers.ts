import type { ListingDetails } from "@orisma/client";
import { readIsoDate, type RecordValue } from "@orisma/core/internal";
import { localText } from "../dates/zones.js";
import {
  isCompoundOn,
  parametersOn,
  takesValue,
  withCondition,
  withoutColumn,
  withWindow,
  withYes,
  type ShownColumn,
} from "./narrowing.js";
import { typed } from "./conditions.js";
import { withParameters, type PageState } from "./state.js";

/** One way of narrowing by a cell, and the page that it leads to. */
export interface CellOffer {
  readonly words: string;
  readonly state: PageState;
}

export interface RequestedCell {
  readonly listing: ListingDetails;
  readonly state: PageState;
  readonly column: ShownColumn;
  readonly value: RecordValue;
  /** The text as it came, where it could not be read. */
  readonly unreadable: string | undefined;
}

/** What a cell can narrow its column to, the plainest first. */
export function cellOffers(requested: RequestedCell): readonly CellOffer[] {
  const { column, value, unreadable } = requested;
  if (unreadable !== undefined) return ofState(requested, "unreadable");
  if (value === null || value === "") return ofState(requested, "blank");
  switch (column.type) {
    case "date":
      return ofDate(requested, String(value));
    case "text":
      return ofText(requested, String(value));
    case "boolean":
      return ofBoolean(requested, value === true);
    case "integer":
    case "decimal":
      return ofNumber(requested, String(value));
  }
}

function ofState(
  { listing, state, column: { name } }: RequestedCell,
  how: "blank" | "unreadable",
): readonly CellOffer[] {
  if (listing.choices?.[name]?.blanks === false) return [];
  const offers: CellOffer[] = [];
  const [parameter] = parametersOn(listing, name);
  if (how === "blank" && parameter !== undefined && parameter.type !== "search") {
    const only = { [`${parameter.name}.blank`]: "only" };
    offers.push({
      words: "only blank",
      state: withParameters(withoutColumn(state, listing, name), only),
    });
  } else if (isCompoundOn(listing, name)) {
    offers.push({ words: `only ${how}`, state: withCondition(state, listing, typed(name, how)) });
  }
  if (isCompoundOn(listing, name)) {
    offers.push({
      words: `none that is ${how}`,
      state: withCondition(state, listing, typed(name, how, [], { isNegated: true })),
    });
  }
  return offers;
}

function ofDate({ listing, state, column }: RequestedCell, value: string): readonly CellOffer[] {
  const day = localText(value, listing.zone).slice(0, 10);
  // Where the listing is, an instant may lie before the first day that can be written.
  if (!readIsoDate(day).ok) return [];
  const month = new Date(`${day}T00:00:00Z`).toLocaleString(undefined, {
    month: "long",
    year: "numeric",
    timeZone: "UTC",
  });
  const windows = [
    ["that day", day],
    [`all of ${month}`, day.slice(0, 7)],
    ["from that day on", `${day}/..`],
    ["up to that day", `../${day}`],
  ] as const;
  return windows.flatMap(([words, window]) => {
    const narrowed = withWindow(state, listing, column.name, window);
    return narrowed === null ? [] : [{ words, state: narrowed }];
  });
}

/** Some values of a column of strings, and no others; null where the listing does not let it. */
export function onlyAmong(
  { listing, state, column: { name } }: Pick<RequestedCell, "listing" | "state" | "column">,
  values: readonly string[],
): CellOffer | null {
  const words = `only ${values.map((value) => `“${value}”`).join(" or ")}`;
  const parameter = parametersOn(listing, name).find(
    (each) =>
      (each.comparison === "among" || (each.comparison === "is" && values.length === 1)) &&
      values.every((value) => takesValue(each, value)),
  );
  if (parameter !== undefined) {
    const clear = withoutColumn(state, listing, name);
    return { words, state: withParameters(clear, { [parameter.name]: [...values] }) };
  }
  if (!isCompoundOn(listing, name)) return null;
  const condition = typed(name, "among", values, { caseSensitive: true });
  return { words, state: withCondition(state, listing, condition) };
}

function ofText(requested: RequestedCell, value: string): readonly CellOffer[] {
  const {
    listing,
    state,
    column: { name },
  } = requested;
  const clear = withoutColumn(state, listing, name);
  const parameters = parametersOn(listing, name).filter((each) => takesValue(each, value));
  const not = parameters.find(
    ({ comparison }) => comparison === "noneOf" || comparison === "isNot",
  );
  const isCompound = isCompoundOn(listing, name);
  const condition = typed(name, "among", [value], { caseSensitive: true });
  const offers: (CellOffer | null)[] = [
    onlyAmong(requested, [value]),
    not !== undefined
      ? { words: `not “${value}”`, state: withParameters(clear, { [not.name]: value }) }
      : isCompound
        ? {
            words: `not “${value}”`,
            state: withCondition(state, listing, { ...condition, isNegated: true }),
          }
        : null,
  ];
  return offers.filter((each) => each !== null);
}

function ofBoolean(
  { listing, state, column: { name } }: RequestedCell,
  value: boolean,
): readonly CellOffer[] {
  const narrowed = withYes(state, listing, name, value);
  return narrowed === null ? [] : [{ words: `only ${value ? "yes" : "no"}`, state: narrowed }];
}

function ofNumber(
  { listing, state, column: { name } }: RequestedCell,
  value: string,
): readonly CellOffer[] {
  const clear = withoutColumn(state, listing, name);
  const parameters = parametersOn(listing, name).filter((each) => takesValue(each, value));
  const range = parameters.find(
    ({ type, comparison }) => type === "range" && comparison === "within",
  );
  const bounds = [
    { words: `at least ${value}`, comparison: "atLeast", range: `${value}/..` },
    { words: `at most ${value}`, comparison: "atMost", range: `../${value}` },
    { words: `just ${value}`, comparison: "is", range: value },
  ] as const;
  return bounds.flatMap(({ words, comparison, range: text }) => {
    const parameter = parameters.find((each) => each.comparison === comparison);
    if (parameter !== undefined) {
      return [{ words, state: withParameters(clear, { [parameter.name]: value }) }];
    }
    if (range !== undefined) {
      return [{ words, state: withParameters(clear, { [range.name]: text }) }];
    }
    if (!isCompoundOn(listing, name)) return [];
    return [{ words, state: withCondition(state, listing, typed(name, comparison, [value])) }];
  });
}
