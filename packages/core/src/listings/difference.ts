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

/**
 * In what a declaration differs from the one before, or a listing from the one that it was made from, in words:
 * what its fixed filter keeps, what can be sent, and what applies where nothing is. Nothing where they are alike.
 */
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
  const fresh = without(own ?? [], theirs ?? []);
  const defaults = copy.parameters.flatMap(({ name, default: value }) => {
    const before = origin.parameters.find((each) => each.name === name);
    if (same(value, before?.default)) return [];
    if (value === undefined) return [`${name} has no default`];
    return [`${name} is ${shown(value)} where nothing is sent`];
  });
  const others = copy.parameters.flatMap(({ name, ...parameter }) => {
    const before = origin.parameters.find((each) => each.name === name);
    if (before === undefined) return [];
    const [old, next] = [before, parameter].map(
      ({ default: _default, ...each }: Partial<typeof before>) => ({ ...each, name: "" }),
    );
    return changes(old, next, `parameters.${name}`);
  });
  return [
    ...without(after, before).map((each) => `only: ${each}`),
    ...without(before, after).map((each) => `not only: ${each}`),
    ...(gone.length === 0 ? [] : [`${gone.join(", ")} cannot be sent`]),
    ...(fresh.length === 0 ? [] : [`${fresh.join(", ")} can be sent`]),
    ...defaults,
    ...others,
    ...(same(origin.public, copy.public) ? [] : [readersInWords(copy)]),
    ...(same(origin.order.default, copy.order.default)
      ? []
      : [`in the order ${copy.order.default}`]),
    ...(same(origin.columns, copy.columns) ? [] : [shownInWords(copy.columns)]),
    ...Object.entries(labels).flatMap(([name, label]) =>
      origin.labels?.[name] === label ? [] : [`${name} is called “${label}”`],
    ),
    ...(copy.basedOn === origin.name ? [] : changes(titled(origin), titled(copy), "")),
    ...changes(ownSettings(origin), ownSettings(copy), ""),
  ];
}

/** What a listing says beside its name and its conditions. */
function ownSettings(listing: ListingDeclaration): Partial<ListingDeclaration> {
  const { name: _name, title: _title, basedOn: _origin, ...rest } = listing;
  const { fixedFilter: _fixed, filter: _filter, parameters: _parameters, ...others } = rest;
  const { columns: _columns, labels: _labels, public: _public, ...plain } = others;
  return { ...plain, order: { ...listing.order, default: "" } };
}

function titled({ title }: ListingDeclaration): Pick<ListingDeclaration, "title"> {
  return { title };
}

function readersInWords({ public: isPublic }: ListingDeclaration): string {
  return isPublic === true ? "anybody may read it without a key" : "it is read with a key only";
}

function same(one: unknown, other: unknown): boolean {
  return JSON.stringify(one) === JSON.stringify(other);
}

function shownInWords(columns: readonly string[]): string {
  return columns.length === 0 ? "shows all columns" : `shows ${columns.join(", ")}`;
}
