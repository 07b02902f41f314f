import type { Catalogue, DateComparison } from "../filters/index.js";
import type { DateParameterType } from "../windows/index.js";
import { takesDates, type ListingDeclaration } from "./declaration.js";

interface WindowKind {
  readonly kind: string;
  readonly example: string;
  readonly types: readonly DateParameterType[];
  /** Whether it has a time of day, which a column of days cannot be compared with. */
  readonly hasTime: boolean;
}

const ONE_DATE = ["date", "datetime", "window"] as const;

/** The kinds of windows that can be written, from the plainest on. */
const WINDOW_KINDS: readonly WindowKind[] = [
  { kind: "a day, month, quarter or year", example: "2026-03", types: ONE_DATE, hasTime: false },
  {
    kind: "a time of day",
    example: "2026-03-05T14:30",
    types: ["datetime", "window"],
    hasTime: true,
  },
  { kind: "a day or unit around today", example: "month-1", types: ONE_DATE, hasTime: false },
  {
    kind: "an hour or minute around now",
    example: "hour-1",
    types: ["datetime", "window"],
    hasTime: true,
  },
  { kind: "now", example: "now", types: ONE_DATE, hasTime: false },
  { kind: "a date moved by a length", example: "today+P1M", types: ONE_DATE, hasTime: false },
  { kind: "two ends", example: "month-1/yesterday", types: ["window"], hasTime: false },
  { kind: "an open end", example: "today/..", types: ["window"], hasTime: false },
  { kind: "a length and one end", example: "P6W/today", types: ["window"], hasTime: false },
  { kind: "several together", example: "2025-03|2026-03", types: ["window"], hasTime: false },
  {
    kind: "days that recur",
    example: "../..;BYMONTH=4..6;BYDAY=MO",
    types: ["window"],
    hasTime: false,
  },
  { kind: "hours that recur", example: "week;BYHOUR=9..16", types: ["window"], hasTime: true },
];

/** What a kind of window can be compared with in a listing. */
export interface AllowedKind {
  readonly kind: string;
  readonly example: string;
  readonly columns: readonly {
    readonly column: string;
    readonly comparison: DateComparison;
    readonly parameter: string;
  }[];
}

/**
 * For every kind of window the columns and comparisons that a listing permits it with, and the
 * parameter that carries it; those that go with none come with an empty list.
 */
export function allowedWindows(
  { parameters }: ListingDeclaration,
  columns: Catalogue,
): readonly AllowedKind[] {
  return WINDOW_KINDS.map(({ kind, example, types, hasTime }) => ({
    kind,
    example,
    columns: parameters.filter(takesDates).flatMap(({ name, type, column, comparison }) => {
      const found = columns.get(column);
      const isDays = found?.type === "date" && found.kind === "date";
      const isTaken = types.includes(type) && !(hasTime && isDays);
      return isTaken ? [{ column, comparison, parameter: name }] : [];
    }),
  }));
}
