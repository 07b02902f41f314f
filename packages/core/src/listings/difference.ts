import type { ListingDeclaration } from "./declaration.js";

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
