import type { Cell, DateKind } from "../../reading/index.js";
import type { Fault } from "../../faults/index.js";
import type { Catalogue } from "../columns.js";
import { isBlankText } from "../fold.js";

/** What a date condition does with blanks. */
export const BLANK_POLICIES = ["exclude", "include", "only"] as const;
export type BlankPolicy = (typeof BLANK_POLICIES)[number];

/** Which side of what it describes a condition keeps. */
export type Side = "inside" | "outside";

/** What there is to know of a kind of condition: all of it stands in the file of the kind. */
export interface ConditionKind<C> {
  /** The columns of which a condition speaks. */
  readonly columns: (condition: C) => readonly string[];
  /** What is wrong with a condition against the columns that are known. */
  readonly faults: (condition: C, catalogue: Catalogue) => readonly (Fault | null)[];
  /** Whether a record satisfies a condition. */
  readonly holds: (condition: C, row: Row, catalogue: Catalogue) => boolean;
  /** The condition in words, with its column. */
  readonly words: (condition: C) => string;
}

/**
 * A cell of a column that holds no dates: a text as it is, a number as {@link Decimal}, `true` or
 * `false`.
 */
export interface FilledCell {
  readonly state: "filled";
  readonly value: string;
}

/** A record as the evaluator sees it: its cells, by the names of their columns. */
export type Row = Readonly<Record<string, Cell | FilledCell>>;

/** A text of nothing but white space is blank, like a cell without anything. */
export function stateOf(cell: Cell | FilledCell): "dated" | "blank" | "unreadable" {
  if (cell.state !== "filled") return cell.state;
  return isBlankText(cell.value) ? "blank" : "dated";
}

/** What becomes of a cell that holds no value; null for one that does. */
export function withoutValue(cell: Cell | FilledCell, blanks: BlankPolicy): boolean | null {
  const state = stateOf(cell);
  if (state === "unreadable") return false;
  if (state === "blank") return blanks !== "exclude";
  return blanks === "only" ? false : null;
}

export function cellOf(row: Row, column: string): Cell | FilledCell {
  const cell = row[column];
  if (cell === undefined) throw new Error(`the record has no column ${column}`);
  return cell;
}

export function kindOf(column: string, catalogue: Catalogue): DateKind {
  const found = catalogue.get(column);
  if (found?.type !== "date") throw new Error(`${column} is no date column`);
  return found.kind;
}

export function msOf(cell: Cell | FilledCell): number {
  if (cell.state !== "dated") throw new Error("the cell holds no date");
  return cell.ms;
}

export function filledOf(cell: Cell | FilledCell): string {
  if (cell.state !== "filled") throw new Error("the cell holds neither text nor number");
  return cell.value;
}

/** Whether a record satisfies a condition on one value, of which blanks have none. */
export function valueHolds(
  condition: { readonly column: string; readonly side: Side; readonly blanks: BlankPolicy },
  row: Row,
  describes: (value: string) => boolean,
): boolean {
  const cell = cellOf(row, condition.column);
  const known = withoutValue(cell, condition.blanks);
  if (known !== null) return known;
  return describes(filledOf(cell)) === (condition.side === "inside");
}

/** What a date condition does with blanks, said beside it. */
const BLANK_WORDS: Readonly<Record<BlankPolicy, string>> = {
  exclude: "",
  include: ", or blank",
  only: " blank",
};

export function withBlanks(
  { column, blanks }: { readonly column: string; readonly blanks: BlankPolicy },
  words: string,
): string {
  return blanks === "only" ? `${column} blank` : `${column} ${words}${BLANK_WORDS[blanks]}`;
}
