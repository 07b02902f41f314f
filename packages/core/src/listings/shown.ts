import type { Catalogue, Column, ColumnType } from "../filters/index.js";
import type { DerivedColumn } from "./columns.js";
import type { ListingDeclaration } from "./declaration.js";
import { operandsOf } from "./computed.js";

/** What the declaration of a relation is held against: the columns of another source. */
export interface RelatedSource {
  readonly columns: Catalogue;
  /** Whether its records have a key, and all are in one table. */
  readonly isKeyed: boolean;
  /**
   * The types of a column here by which a statement can find its records: none where they lie in
   * another database.
   */
  readonly joinsBy?: readonly ColumnType[];
}

type Relations = Pick<ListingDeclaration, "relations">;
type RelatedSources = ReadonlyMap<string, RelatedSource>;

/**
 * The columns of a source with those of its relations that a statement can read beside them, and which
 * are columns like all others: to filter, order and group by.
 */
export function withJoinedColumns(
  columns: Catalogue,
  { relations = {} }: Relations,
  related: RelatedSources,
): Catalogue {
  const found = new Map(columns);
  for (const [relation, { source, by, columns: names }] of Object.entries(relations)) {
    if (!isJoined(columns.get(by), related.get(source))) continue;
    for (const name of names) {
      const column = related.get(source)?.columns.get(name);
      const full = `${relation}.${name}`;
      if (column !== undefined && !columns.has(full)) found.set(full, { ...column, name: full });
    }
  }
  return found;
}

/** Whether a statement can read the records of a relation beside those that have their keys. */
function isJoined(by: Column | undefined, other: RelatedSource | undefined): boolean {
  return by !== undefined && other?.joinsBy?.includes(by.type) === true;
}

/** A column that a listing can show beside those of its source. */
export type AddedColumn =
  | { readonly kind: "derived"; readonly derived: DerivedColumn }
  | {
      readonly kind: "related";
      readonly relation: string;
      readonly by: string;
      /** As it is in the other source. */
      readonly column: Column;
    };

/**
 * The columns that a listing can show beside those that its statements read, by the names they have
 * here: worked out of these, or looked up in other sources.
 */
export function addedColumns(
  { derived = {}, relations = {} }: ListingDeclaration,
  columns: Catalogue,
  related: RelatedSources,
): ReadonlyMap<string, AddedColumn> {
  const found = new Map<string, AddedColumn>();
  for (const [name, each] of Object.entries(derived)) {
    found.set(name, { kind: "derived", derived: each });
  }
  for (const [relation, { source, by, columns: names }] of Object.entries(relations)) {
    if (isJoined(columns.get(by), related.get(source))) continue;
    for (const name of names) {
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
  derivedColumns: ReadonlyMap<string, AddedColumn>,
): readonly string[] {
  const needed = names.flatMap((name) => {
    const column = derivedColumns.get(name);
    if (column === undefined) return [];
    return column.kind === "related" ? [column.by] : operandsOf(column.derived);
  });
  return [...new Set(needed)];
}
