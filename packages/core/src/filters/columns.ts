import { fault, type Fault } from "../faults/index.js";
import type { DateKind } from "../reading/index.js";

/** What a column holds. */
export const COLUMN_TYPES = ["text", "integer", "decimal", "date"] as const;
export type ColumnType = (typeof COLUMN_TYPES)[number];

/** A column that a filter may speak of. */
export type Column =
  | { readonly name: string; readonly type: "text" | "integer" | "decimal" }
  | { readonly name: string; readonly type: "date"; readonly kind: DateKind };

/** A column of dates. */
export type DateColumn = Extract<Column, { readonly type: "date" }>;

/** The columns that are known, by name. */
export type Catalogue = ReadonlyMap<string, Column>;

/** The fault of a column that does not exist or holds no dates, or null where it will do. */
export function dateColumnFault(name: string, catalogue: Catalogue): Fault | null {
  const column = catalogue.get(name);
  if (column === undefined) {
    return fault("column.unknown", { name, known: [...catalogue.keys()] }, { value: name });
  }
  if (column.type === "date") return null;
  return fault("column.notDate", { name, type: column.type }, { value: name });
}
