import {
  dateText,
  nestedValue,
  unscaled,
  valueId,
  type ColumnUnits,
  type Column,
  type PageFields,
  type RecordAnswer,
  type RecordValue,
  type StoredColumn,
  type StoredTable,
} from "@orisma/core/internal";
import type { ResultRow } from "../database/index.js";

/** Reads the rows of a page statement: records, and the strings that could not be read. */
export class PageReader {
  readonly #columns: readonly {
    readonly name: string;
    readonly value: number;
    readonly unreadable: number | null;
    readonly read: (value: string | number | null) => RecordValue;
    /** For a plain column: whether a value that is there could not be read. */
    readonly isUnreadable: ((value: string | number) => boolean) | null;
  }[];

  readonly #isPerValue: boolean;

  constructor(
    names: readonly string[],
    table: StoredTable,
    { columns }: PageFields,
    units: ColumnUnits = {},
  ) {
    this.#isPerValue = table.nested?.rows === "values";
    this.#columns = names.flatMap((name, index) => {
      const stored = table.columns.get(name);
      const fields = columns[index];
      if (stored === undefined || fields === undefined) return [];
      return [{ name, ...fields, ...inUnit(readersOf(stored), units[name]) }];
    });
  }

  /** Of a value inside the record's id, and its place there without needless zeros. */
  #id(key: string | number): string | number {
    return this.#isPerValue ? valueId(String(key)) : key;
  }

  /** A record, with the raw strings of its unreadable cells put into `unreadable`. */
  read(row: ResultRow, unreadable: Record<string, Record<string, string>>): RecordAnswer {
    const id = this.#id(row[0] ?? "");
    const record: Record<string, RecordValue> = { id };
    for (const column of this.#columns) {
      const value = row[column.value] ?? null;
      const read = column.read(value);
      record[column.name] = read;
      // A date that was read need not be read again.
      const isLost = read === null && value !== null && column.isUnreadable?.(value) === true;
      const bare = isLost ? value : null;
      const raw = column.unreadable === null ? bare : (row[column.unreadable] ?? null);
      if (raw !== null) (unreadable[String(id)] ??= {})[column.name] = String(raw);
    }
    return record as RecordAnswer;
  }
}

/** The readers of a column whose numbers are reported in another unit than they are stored in. */
function inUnit(
  readers: ReturnType<typeof readersOf>,
  unit: ColumnUnits[string] | undefined,
): ReturnType<typeof readersOf> {
  if (unit === undefined) return readers;
  const read = (value: string | number | null): RecordValue => {
    const found = readers.read(value);
    return found === null ? null : decimalOf(unscaled(String(found), unit.scale));
  };
  return { ...readers, read };
}

function readersOf(stored: StoredColumn) {
  const { column } = stored;
  if (stored.storage === "attached" && stored.holding.type === "text" && isReadInside(column)) {
    const { type } = column;
    const found = (value: string | number) => nestedValue(String(value), type);
    return {
      read: (value: string | number | null): RecordValue => {
        const inside = value === null ? null : found(value);
        if (inside === undefined) return null;
        return typeof inside === "string" ? decimalOf(inside) : inside;
      },
      isUnreadable: (value: string | number) => found(value) === undefined,
    };
  }
  if (stored.storage === "imported" || stored.cells.type !== "date") {
    return { read: readerOf(stored.column), isUnreadable: null };
  }
  const { reading } = stored.cells;
  return {
    read: (value: string | number | null): RecordValue => {
      const ms = reading.dateOf(value);
      return Number.isNaN(ms) ? null : dateText(ms, reading.kind);
    },
    isUnreadable: (value: string | number) => reading.read(value).state === "unreadable",
  };
}

/** Whether a column that holds strings is of numbers or of yes and no. */
function isReadInside(
  column: Column,
): column is Column & { readonly type: "integer" | "decimal" | "boolean" } {
  return column.type !== "text" && column.type !== "date";
}

function readerOf(column: Column): (value: string | number | null) => RecordValue {
  switch (column.type) {
    case "text":
    case "integer":
      return (value) => value;
    case "decimal":
      return (value) => (value === null ? null : decimalOf(String(value)));
    case "boolean":
      return (value) => (value === null ? null : Number(value) !== 0);
    case "date":
      if (column.kind === "date") return (value) => value;
      return (value) => (value === null ? null : timeOf(String(value), column.kind === "instant"));
  }
}

/** A number where it has the digits of the decimal, else the digits as text. */
function decimalOf(stored: string): string | number {
  const digits = stored.includes(".") ? stored.replace(/\.?0+$/, "") : stored;
  const number = Number(digits);
  return String(number) === digits ? number : digits;
}

/** `2024-01-06 19:54:18.500` as `2024-01-06T19:54:18.500`, and with `Z` for an instant. */
function timeOf(stored: string, isInstant: boolean): string {
  const text = stored.replace(" ", "T").replace(/\.000$/, "");
  return isInstant ? `${text}Z` : text;
}
