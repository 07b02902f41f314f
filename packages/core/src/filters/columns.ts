import { fault, type Fault } from "../faults/index.js";
import type { DateKind, PartialPolicy } from "../reading/index.js";

/** What a column holds. */
export const COLUMN_TYPES = ["text", "integer", "decimal", "boolean", "date"] as const;
export type ColumnType = (typeof COLUMN_TYPES)[number];

/** A column that a filter may speak of. */
export type Column =
  | { readonly name: string; readonly type: Exclude<ColumnType, "date"> }
  | {
      readonly name: string;
      readonly type: "date";
      readonly kind: DateKind;
      /** How its months and years without a day lie to a window; by default it has none, or each is its first day. */
      readonly partial?: Exclude<PartialPolicy, "start">;
    };

/** A column of dates. */
export type DateColumn = Extract<Column, { readonly type: "date" }>;

/** The columns that are known, by name. */
export type Catalogue = ReadonlyMap<string, Column>;

/** The column of a name; a fault that names the nearest where there is none. */
export function columnFault(name: string, catalogue: Catalogue): Fault | null {
  if (catalogue.has(name)) return null;
  return fault("column.unknown", { name, known: [...catalogue.keys()] }, { value: name });
}

/** The fault of a column that does not exist or holds no dates, or null where it will do. */
export function dateColumnFault(name: string, catalogue: Catalogue): Fault | null {
  const type = catalogue.get(name)?.type;
  if (type === undefined || type === "date") return columnFault(name, catalogue);
  return fault("column.notDate", { name, type }, { value: name });
}

/** Whether a column holds numbers. */
export function holdsNumbers(column: Column | undefined): boolean {
  return column?.type === "integer" || column?.type === "decimal";
}
