import { isPlainNumber } from "@orisma/core/internal";

/** What a file itself says that the cells of a column hold; those that say nothing are not counted. */
export interface StatedCells {
  readonly whole: number;
  readonly decimal: number;
  /** Numbers with more digits than a column of numbers can hold. */
  readonly long: number;
  readonly boolean: number;
  /** Strings that are not blank, dates of sheets, and values with parts of their own. */
  readonly other: number;
}

/** Counts what a file says of the cells of its columns. */
export class StatedTypes {
  readonly #cells = new Map<string, { -readonly [Key in keyof StatedCells]: number }>();

  add(column: string, type: "number" | "boolean" | "other", text: string): void {
    let cells = this.#cells.get(column);
    if (cells === undefined) {
      cells = { whole: 0, decimal: 0, long: 0, boolean: 0, other: 0 };
      this.#cells.set(column, cells);
    }
    if (type === "boolean") cells.boolean++;
    else if (type === "number") cells[numberKind(text)]++;
    else if (text.trim() !== "") cells.other++;
  }

  /** The columns of which the file says anything. */
  get cells(): ReadonlyMap<string, StatedCells> {
    return this.#cells;
  }
}

function numberKind(text: string): "whole" | "decimal" | "long" {
  if (isPlainNumber(text, "integer")) return "whole";
  return isPlainNumber(text, "decimal") ? "decimal" : "long";
}

/** The type of a column whose cells say what they hold; null where they say nothing, or differ. */
export function statedType({ whole, decimal, long, boolean, other }: StatedCells) {
  if (other > 0 || long > 0) return null;
  const numbers = whole + decimal;
  if (boolean > 0) return numbers === 0 ? ("boolean" as const) : null;
  if (numbers === 0) return null;
  return decimal > 0 ? ("decimal" as const) : ("integer" as const);
}

/** What is to be said of a column that is held as text although its file has typed values in it. */
export function mixedRemark(column: string, cells: StatedCells): string | null {
  const { whole, decimal, long, boolean, other } = cells;
  const numbers = whole + decimal + long;
  if (numbers + boolean === 0 || statedType(cells) !== null) return null;
  const parts = [
    [numbers, "number"],
    [boolean, "true or false value"],
    [other, "other value"],
  ] as const;
  const held = parts.flatMap(([count, what]) =>
    count === 0 ? [] : [`${count} ${what}${count === 1 ? "" : "s"}`],
  );
  const why =
    long > 0 ? `, ${long} of the numbers with more digits than a column of numbers holds` : "";
  return `The column “${column}” holds ${held.join(" and ")}${why}: it is held as text.`;
}
