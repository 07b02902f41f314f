import {
  MS_PER_DAY,
  civilDay,
  dayOf,
  isoDay,
  isoTime,
  wallMs,
  type Edge,
} from "../calendar/index.js";
import { face, type Column } from "../filters/index.js";
import type { CellState, DateKind } from "../reading/index.js";

/** How a table of Orisma's own stores a column. */
export interface StoredColumn {
  readonly column: Column;
  /**
   * The physical column of the value; NULL unless the cell could be read. Days are a DATE,
   * wall-clock times and instants a DATETIME(3), instants in UTC.
   */
  readonly value: string;
  /** Where a cell can be blank or unreadable: the columns of its state and its raw text. */
  readonly cell: {
    /** One of {@link STATE_CODES}. */
    readonly state: string;
    readonly raw: string;
  } | null;
  /**
   * For texts: the physical column of the text as `foldText` has it, compared sign by sign; NULL
   * where the text is blank.
   */
  readonly folded: string | null;
}

/** How a table stores the records of a source. */
export interface StoredTable {
  readonly table: string;
  /** The physical key column, by which ties are broken. */
  readonly key: string;
  readonly columns: ReadonlyMap<string, StoredColumn>;
}

/** A stored column whose cells can be blank or unreadable. */
export interface StoredCells {
  readonly value: string;
  readonly state: string;
}

/** A stored column of dates. */
export interface StoredDates extends StoredCells {
  readonly kind: DateKind;
}

/** A stored column of texts. */
export interface StoredTexts {
  readonly value: string;
  readonly folded: string;
}

/** The stored column of a name; throws on one that the table lacks. */
export function storedColumn(name: string, table: StoredTable): StoredColumn {
  const stored = table.columns.get(name);
  if (stored === undefined) throw new Error(`${name} is no column of ${table.table}`);
  return stored;
}

/** A stored column with states; throws on one that the table lacks or that holds text. */
export function cellsOf(name: string, table: StoredTable): StoredCells {
  const { value, cell } = storedColumn(name, table);
  if (cell === null) throw new Error(`${name} of ${table.table} has no states`);
  return { value, state: cell.state };
}

/** A stored column of dates; throws on one that the table lacks or that holds none. */
export function datesOf(name: string, table: StoredTable): StoredDates {
  const { column, value, cell } = storedColumn(name, table);
  if (column.type !== "date" || cell === null) {
    throw new Error(`${name} is no date column of ${table.table}`);
  }
  return { value, state: cell.state, kind: column.kind };
}

/** A stored column of texts; throws on one that the table lacks or that holds none. */
export function textsOf(name: string, table: StoredTable): StoredTexts {
  const { value, folded } = storedColumn(name, table);
  if (folded === null) throw new Error(`${name} is no text column of ${table.table}`);
  return { value, folded };
}

/** The numbers under which the three states are stored. */
export const STATE_CODES: Readonly<Record<CellState, number>> = {
  dated: 1,
  blank: 2,
  unreadable: 3,
};

/** A bound in stored form, or why there is none to compare with. */
export type Bound =
  | { readonly kind: "value"; readonly text: string }
  /** Below everything that the column can hold. */
  | { readonly kind: "below" }
  /** Above everything that the column can hold. */
  | { readonly kind: "above" };

/**
 * An edge as the text to compare a stored date column with: `2025-02-28`, or
 * `2025-02-28 14:30:00.000` (in UTC for instants, without a zone, which would cost the index).
 *
 * A column of days takes an edge inside a day up to the next one: on a point column both
 * bounds are rounded up to its resolution.
 */
export function encodeEdge(edge: Edge, kind: DateKind): Bound {
  return encodeMs(face(edge, kind), kind);
}

/** The milliseconds of a stored date, as a cell of its kind has them. */
export function decodeMs(stored: string): number {
  return Date.parse(`${stored.length > 10 ? stored.replace(" ", "T") : `${stored}T00:00`}Z`);
}

/** The stored form of a value of a kind; see {@link encodeEdge}. */
export function encodeMs(ms: number, kind: DateKind): Bound {
  const wall = wallMs(kind === "date" ? Math.ceil(ms / MS_PER_DAY) * MS_PER_DAY : ms);
  const day = dayOf(wall);
  const { year } = civilDay(day);
  if (year < 1) return { kind: "below" };
  if (year > 9999) return { kind: "above" };
  if (kind === "date") return { kind: "value", text: isoDay(day) };
  const time = isoTime(wall - day * MS_PER_DAY);
  return { kind: "value", text: `${isoDay(day)} ${time.length > 8 ? time : `${time}.000`}` };
}
