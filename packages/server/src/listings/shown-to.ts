import type { ListingDeclaration } from "@orisma/core/internal";
import { mayAs, type Caller } from "../http/index.js";

/**
 * A declaration as a caller may see it: an author all of it; a reader not what the listing sets for every caller,
 * from which listing it was made, or anything of columns that are not shown.
 */
export function declarationFor(
  caller: Caller,
  declaration: ListingDeclaration,
  shown: readonly string[],
): ListingDeclaration {
  if (mayAs("author", caller)) return declaration;
  const { fixedFilter: _fixed, basedOn: _origin, maxConcurrent: _max, ...rest } = declaration;
  const { choices, labels, formats, units, ...others } = rest;
  return {
    ...others,
    ...(choices && { choices: ofShown(choices, shown) }),
    ...(labels && { labels: ofShown(labels, shown) }),
    ...(formats && { formats: ofShown(formats, shown) }),
    ...(units && { units: ofShown(units, shown) }),
  };
}

function ofShown<T>(
  byColumn: Readonly<Record<string, T>>,
  shown: readonly string[],
): Readonly<Record<string, T>> {
  return Object.fromEntries(Object.entries(byColumn).filter(([name]) => shown.includes(name)));
}
