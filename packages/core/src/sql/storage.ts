import type { Column } from "../filters/index.js";
import { MS_PER_DAY, MS_PER_SECOND } from "../calendar/index.js";
import type { CompiledReading, Reading } from "../reading/index.js";
import type {
  StoredBooleans,
  StoredCells,
  StoredDates,
  StoredDictionary,
  StoredNumbers,
  StoredStrings,
} from "./cells.js";
import type { DatabaseType } from "./database-type.js";
import type { Fragment } from "./fragment.js";
import type { JsonPath } from "./json-path.js";
import {
  importedBooleans,
  importedDates,
  importedNumbers,
  importedStrings,
  type ImportedCell,
} from "./imported.js";

/** How a table stores a column: one of Orisma's own, or one that was there before. */
export type StoredColumn = ImportedColumn | AttachedColumn;

/** How a table of Orisma's own stores a column. */
export interface ImportedColumn {
  readonly storage: "imported";
  readonly column: Column;
  /**
   * The physical column of the value; NULL unless the cell could be read. Days are a DATE,
   * wall-clock times and instants a DATETIME(3), instants in UTC.
   */
  readonly value: string;
  /** Where a cell can be blank or unreadable: the columns of its state and its raw text. */
  readonly cell: ImportedCell | null;
  /**
   * For strings: the physical column of the text as `foldText` has it, compared character by character; NULL
   * where the text is blank.
   */
  readonly folded: string | null;
  /** For strings of which few are distinct: their dictionary. */
  readonly dictionary: StoredDictionary | null;
}

/** A column of a table that Orisma did not make: the value stands there alone, as it is stored. */
export interface AttachedColumn {
  readonly storage: "attached";
  readonly column: Column;
  /** The name of the column in its table. */
  readonly value: string;
  /** Where it is made up of several columns of the table: their names, and its text. */
  readonly parts?: readonly string[];
  readonly text?: Fragment;
  /** What the database says that it holds; strings are distinguished character by character. */
  readonly holding: DatabaseType;
  readonly cells: AttachedCells;
}

/** The cells of a plain column, by what it holds. */
export type AttachedCells =
  | {
      readonly type: "date";
      readonly dates: StoredDates;
      /** Where stored values are in another order: what would put them in that of their dates. */
      readonly orderKey: { readonly expression: Fragment; readonly digits: number } | null;
      /** Reads what the table holds. */
      readonly reading: CompiledReading;
    }
  | { readonly type: "text"; readonly strings: StoredStrings }
  | { readonly type: "number"; readonly numbers: StoredNumbers }
  | { readonly type: "boolean"; readonly booleans: StoredBooleans };

/** How a table stores the records of a source. */
export interface StoredTable<C extends StoredColumn = StoredColumn> {
  readonly table: string;
  /** The physical key column, by which ties are broken. */
  readonly key: string;
  readonly columns: ReadonlyMap<string, C>;
  /** Values inside a column of it, which are columns too. */
  readonly nested?: StoredNested;
  /** Columns that are worked out of others, by name. */
  readonly computed?: ReadonlyMap<string, ComputedColumn>;
  /** Other tables of which it has columns. */
  readonly joins?: readonly StoredJoin[];
}

/** A table whose columns stand beside another's; see `withJoin`. */
export interface StoredJoin {
  /** What it is called in a statement. */
  readonly alias: string;
  readonly table: string;
  /** Its physical columns, and what each is called in a statement. */
  readonly columns: ReadonlyMap<string, string>;
  /** The names of its columns in the catalogue. */
  readonly names: ReadonlySet<string>;
  /** The column here that has the key of one of its records. */
  readonly by: string;
  /** That one of its records is that of a record of the other table. */
  readonly on: Fragment;
}

/** A column of numbers that a table does not have: they are worked out of other columns of it. */
export interface ComputedColumn {
  readonly column: Column;
  /** The columns of which they are worked out. */
  readonly operands: readonly string[];
  readonly numbers: (table: StoredTable) => StoredNumbers;
}

/** What a listing shows of records with values inside: each record once, or a line for each value. */
export const NESTED_ROWS = ["records", "values"] as const;
export type NestedRows = (typeof NESTED_ROWS)[number];

/** Values inside a column of JSON text of a table in MariaDB: the elements of one list. */
export interface StoredNested {
  /** The physical column of the JSON text. */
  readonly column: string;
  /** The physical key of the table. */
  readonly key: string;
  /** Where the elements are; a record without any has one of which every value is blank. */
  readonly each: JsonPath;
  readonly values: readonly NestedValue[];
  readonly rows: NestedRows;
}

/** A value of an element. */
export interface NestedValue {
  /** The name of its column in the catalogue. */
  readonly name: string;
  readonly path: JsonPath;
}

/** A table of Orisma's own. */
export type ImportedTable = StoredTable<ImportedColumn>;

/** The stored column of a name; throws on one that the table lacks. */
export function storedColumn(name: string, table: StoredTable): StoredColumn {
  const stored = table.columns.get(name);
  if (stored === undefined) throw new Error(`${name} is no column of ${table.table}`);
  return stored;
}

/** The column of a name, stored or computed; throws on one that the table lacks. */
export function columnIn(name: string, table: StoredTable): Column {
  return table.computed?.get(name)?.column ?? storedColumn(name, table).column;
}

/** The cells of a column, stored or computed; throws on one that the table lacks. */
export function cellsOf(name: string, table: StoredTable): StoredCells {
  const { type } = columnIn(name, table);
  switch (type) {
    case "date":
      return datesOf(name, table);
    case "text":
      return stringsOf(name, table);
    case "boolean":
      return booleansOf(name, table);
    default:
      return numbersOf(name, table);
  }
}

/**
 * Milliseconds between the moments that a column of dates can hold, at least 1: an attached one may hold whole seconds
 * only.
 */
export function storedStep(stored: StoredColumn, { encoding }: Reading): number {
  if (stored.storage === "imported") return 1;
  const { holding } = stored;
  if (holding.type === "timestamp") return 10 ** (3 - Math.min(3, holding.digits));
  if (holding.type !== "integer") return 1;
  if (encoding === "epoch-s") return MS_PER_SECOND;
  return encoding.startsWith("serial") ? MS_PER_DAY : 1;
}

/** A stored column of dates; throws on one that the table lacks or that holds none. */
export function datesOf(name: string, table: StoredTable): StoredDates {
  const stored = storedColumn(name, table);
  if (stored.storage === "attached") {
    if (stored.cells.type === "date") return stored.cells.dates;
  } else if (stored.column.type === "date" && stored.cell !== null) {
    const { column, value, cell } = stored;
    return once(stored, knownDates, () => importedDates(column.kind, value, cell));
  }
  throw new Error(`${name} is no date column of ${table.table}`);
}

/** What was made for a column: every request for records asks for it several times. */
const knownDates = new WeakMap<ImportedColumn, StoredDates>();
const knownStrings = new WeakMap<ImportedColumn, StoredStrings>();
const knownNumbers = new WeakMap<ImportedColumn, StoredNumbers>();

function once<T>(stored: ImportedColumn, held: WeakMap<ImportedColumn, T>, make: () => T): T {
  const found = held.get(stored);
  if (found !== undefined) return found;
  const result = make();
  held.set(stored, result);
  return result;
}

/** A stored text column; throws on one that the table lacks or that holds none. */
export function stringsOf(name: string, table: StoredTable): StoredStrings {
  const stored = storedColumn(name, table);
  if (stored.storage === "attached") {
    if (stored.cells.type === "text") return stored.cells.strings;
  } else if (stored.folded !== null) {
    const { value, folded, dictionary } = stored;
    return once(stored, knownStrings, () => importedStrings(value, folded, dictionary));
  }
  throw new Error(`${name} is no text column of ${table.table}`);
}

/** The dictionary of a text column; null for none. */
export function dictionaryOf(name: string, table: StoredTable): StoredDictionary | null {
  const stored = table.columns.get(name);
  return stored?.storage === "imported" ? stored.dictionary : null;
}

/** A stored column of yes and no; throws on one that the table lacks or that holds none. */
export function booleansOf(name: string, table: StoredTable): StoredBooleans {
  const stored = storedColumn(name, table);
  if (stored.storage === "attached") {
    if (stored.cells.type === "boolean") return stored.cells.booleans;
  } else if (stored.cell !== null) {
    return importedBooleans(stored.value, stored.cell);
  }
  throw new Error(`${name} is no column of yes and no of ${table.table}`);
}

/** A stored column of numbers; throws on one that the table lacks or that holds none. */
export function numbersOf(name: string, table: StoredTable): StoredNumbers {
  const computed = table.computed?.get(name);
  if (computed !== undefined) return computed.numbers(table);
  const stored = storedColumn(name, table);
  if (stored.storage === "attached") {
    if (stored.cells.type === "number") return stored.cells.numbers;
  } else if (stored.cell !== null) {
    const { value, cell } = stored;
    return once(stored, knownNumbers, () => importedNumbers(value, cell));
  }
  throw new Error(`${name} is no number column of ${table.table}`);
}
