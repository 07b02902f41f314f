import { type Fault, type Notice } from "../faults/index.js";

/** What a date value means: a calendar day, a wall-clock time, or a point in time. */
export const DATE_KINDS = ["date", "local", "instant"] as const;
export type DateKind = (typeof DATE_KINDS)[number];

/**
 * What a cell is under a reading. `ms` is milliseconds since 1970-01-01T00:00: on the wall
 * clock for `date` (at 00:00) and `local`, in universal time for `instant`.
 */
export type Cell =
  | {
      readonly state: "dated";
      readonly ms: number;
      /** The last day of a month or a year that is written without a day, in the same milliseconds. */
      readonly last?: number;
      readonly notices?: readonly Notice[];
    }
  | { readonly state: "blank" }
  | { readonly state: "unreadable"; readonly fault: Fault };

/** The three states of a cell; every cell is in just one of them. */
export type CellState = Cell["state"];

/** A cell that could not be read, and why. */
export function unreadable(found: Fault): Cell {
  return { state: "unreadable", fault: found };
}
