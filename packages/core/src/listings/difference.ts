import type { PlanContext } from "./context.js";
import type { ListingDeclaration } from "./declaration.js";
import { fixedFilter, fixedWords } from "./fixed-filter.js";

/** What changes from one declaration to another, a line each; nothing where they say the same. */
export function changesBetween(
  before: ListingDeclaration,
  after: ListingDeclaration,
): readonly string[] {
  return changes(named(before), named(after), "");
}

/** Parameters are distinguished by their names, wherever they stand. */
function named({ parameters, ...rest }: ListingDeclaration): unknown {
  return {
    ...rest,
    parameters: Object.fromEntries(parameters.map(({ name, ...each }) => [name, each])),
  };
}

function changes(before: unknown, after: unknown, path: string): readonly string[] {
  if (JSON.stringify(before) === JSON.stringify(after)) return [];
  if (!isObject(before) || !isObject(after)) {
    if (before === undefined) return [`${path}: ${shown(after)} is added`];
    if (after === undefined) return [`${path}: ${shown(before)} is removed`];
    return [`${path}: ${shown(before)} becomes ${shown(after)}`];
  }
  const names = [...new Set([...Object.keys(before), ...Object.keys(after)])];
  return names.flatMap((name) =>
    changes(before[name], after[name], path === "" ? name : `${path}.${name}`),
  );
}

function isObject(value: unknown): value is Readonly<Record<string, unknown>> {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

function shown(value: unknown): string {
  return typeof value === "string" ? `“${value}”` : JSON.stringify(value);
}

/** In what a listing differs from the one that it was made from, in words; nothing where they are alike. */
export function differenceInWords(
  origin: ListingDeclaration,
  copy: ListingDeclaration,
  context: Omit<PlanContext, "forms" | "allowed">,
): readonly string[] {
  const words = (listing: ListingDeclaration) => {
    const fixed = fixedFilter(listing, context);
    return fixed.ok ? fixedWords(listing, fixed.value, undefined) : [];
  };
  const { labels = {} } = copy;
  const [before, after] = [words({ ...origin, labels }), words(copy)];
  const without = (some: readonly string[], others: readonly string[]) =>
    some.filter((each) => !others.includes(each));
  const [own, theirs] = [copy, origin].map(({ parameters }) => parameters.map(({ name }) => name));
  const gone = without(theirs ?? [], own ?? []);
  const defaults = copy.parameters.flatMap(({ name, default: value }) => {
    const before = origin.parameters.find((each) => each.name === name);
    if (value === undefined || same(value, before?.default)) return [];
    return [`${name} is ${shown(value)} where nothing is sent`];
  });
  return [
    ...without(after, before).map((each) => `only: ${each}`),
    ...without(before, after).map((each) => `not only: ${each}`),
    ...(gone.length === 0 ? [] : [`${gone.join(", ")} cannot be sent`]),
    ...defaults,
    ...(same(origin.order.default, copy.order.default)
      ? []
      : [`in the order ${copy.order.default}`]),
    ...(same(origin.columns, copy.columns) ? [] : [shownInWords(copy.columns)]),
    ...Object.entries(labels).flatMap(([name, label]) =>
      origin.labels?.[name] === label ? [] : [`${name} is called “${label}”`],
    ),
    ...changes(ownSettings(origin), ownSettings(copy), ""),
  ];
}

/** What a listing says beside its name and its conditions. */
function ownSettings(listing: ListingDeclaration): Partial<ListingDeclaration> {
  const { name: _name, title: _title, basedOn: _origin, ...rest } = listing;
  const { fixedFilter: _fixed, filter: _filter, parameters: _parameters, ...others } = rest;
  const { columns: _columns, labels: _labels, ...plain } = others;
  return { ...plain, order: { ...listing.order, default: "" } };
}

function same(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

function shownInWords(columns: readonly string[]): string {
  return columns.length === 0 ? "shows all columns" : `shows ${columns.join(", ")}`;
}
