import type { ListingDeclaration } from "@orisma/core/internal";
import { mayAs, type Caller } from "../http/index.js";

/**
 * A declaration as a caller may see it: an author all of it; a reader not what the listing sets for every caller,
 * from which listing it was made, what can be changed in it (its rights say what they may), or anything of columns
 * that are not shown.
 */
export function declarationFor(
  caller: Caller,
  declaration: ListingDeclaration,
  shown: readonly string[],
): ListingDeclaration {
  if (mayAs("author", caller)) return declaration;
  const { fixedFilter: _fixed, basedOn: _origin, maxConcurrent: _max, ...open } = declaration;
  const { editable: _editable, actions: _actions, endpoint: _endpoint, ...rest } = open;
  const { choices, labels, formats, units, allow, ...others } = rest;
  return {
    ...others,
    ...(allow && { allow: momentsOf(allow) }),
    ...(choices && { choices: ofShown(choices, shown) }),
    ...(labels && { labels: ofShown(labels, shown) }),
    ...(formats && { formats: ofShown(formats, shown) }),
    ...(units && { units: ofShown(units, shown) }),
  };
}

/** Who may say when and where they ask: who may read and change it is nobody else's business. */
function momentsOf({ asOf, zone }: NonNullable<ListingDeclaration["allow"]>) {
  return { ...(asOf && { asOf }), ...(zone && { zone }) };
}

function ofShown<T>(
  byColumn: Readonly<Record<string, T>>,
  shown: readonly string[],
): Readonly<Record<string, T>> {
  return Object.fromEntries(Object.entries(byColumn).filter(([name]) => shown.includes(name)));
}
