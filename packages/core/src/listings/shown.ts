import type { Catalogue, Column } from "../filters/index.js";
import type { DerivedColumn } from "./columns.js";
import type { ListingDeclaration } from "./declaration.js";
import { operandsOf } from "./computed.js";

/** What the declaration of a relation is held against: the columns of another source. */
export interface RelatedSource {
  readonly columns: Catalogue;
  /** Whether its records have a key, and all are in one table. */
  readonly isKeyed: boolean;
}

/** A column that a listing can show beside those of its source. */
export type MadeColumn =
  | { readonly kind: "derived"; readonly derived: DerivedColumn }
  | {
      readonly kind: "related";
      readonly relation: string;
      readonly by: string;
      /** As it is in the other source. */
      readonly column: Column;
    };

/** The columns that a listing can show beside those of its source, by the names they have here. */
export function madeColumns(
  { derived = {}, relations = {} }: ListingDeclaration,
  related: ReadonlyMap<string, RelatedSource>,
): ReadonlyMap<string, MadeColumn> {
  const found = new Map<string, MadeColumn>();
  for (const [name, each] of Object.entries(derived)) {
    found.set(name, { kind: "derived", derived: each });
  }
  for (const [relation, { source, by, columns }] of Object.entries(relations)) {
    for (const name of columns) {
      const column = related.get(source)?.columns.get(name);
      if (column !== undefined) {
        found.set(`${relation}.${name}`, { kind: "related", relation, by, column });
      }
    }
  }
  return found;
}

/** The columns of the source out of which some columns that are made come. */
export function neededFor(
  names: readonly string[],
  made: ReadonlyMap<string, MadeColumn>,
): readonly string[] {
  const needed = names.flatMap((name) => {
    const column = made.get(name);
    if (column === undefined) return [];
    return column.kind === "related" ? [column.by] : operandsOf(column.derived);
  });
  return [...new Set(needed)];
}
