/** Orders of several columns as whatever must agree on them has them, worked out in memory. */
import {
  compareDecimals,
  foldText,
  isBlankText,
  type BlankPlace,
  type Catalogue,
  type Column,
  type RecordOrder,
  type Row,
} from "@orisma/core/internal";
import fc from "fast-check";

/** Random orders by some of the columns of these names. */
export function ordersOver(names: readonly string[]): fc.Arbitrary<RecordOrder> {
  const key = fc.record({
    column: fc.constantFrom(...names),
    descending: fc.boolean(),
    blanks: fc.constantFrom<BlankPlace[]>("first", "last"),
  });
  const keys = { minLength: 2, maxLength: 4, selector: (each: { column: string }) => each.column };
  return fc.uniqueArray(key, keys).map(([first, ...then]) => {
    if (first === undefined) throw new Error("an order has a column");
    return { ...first, then };
  });
}

/** The ids of records, counted from 1, in an order; the key is the id. */
export function inOrderOf(
  ids: readonly number[],
  { then = [], ...first }: RecordOrder,
  rows: readonly Row[],
  columns: Catalogue,
): readonly number[] {
  const keys = [first, ...then];
  return [...ids].sort((a, b) => {
    for (const { column, descending, blanks } of keys) {
      const name = column ?? "";
      const [left, right] = [placeIn(name, rows[a - 1]), placeIn(name, rows[b - 1])];
      if (left === null || right === null) {
        if (left === right) continue;
        return (left === null) === (blanks === "first") ? -1 : 1;
      }
      const found = compared(left, right, columns.get(name));
      if (found !== 0) return descending ? -found : found;
    }
    return first.descending ? b - a : a - b;
  });
}

/** What orders a record by a column, or null for nothing. */
function placeIn(name: string, row: Row | undefined): Place | null {
  const cell = row?.[name];
  if (cell?.state === "dated") return cell.ms;
  return cell?.state !== "filled" || isBlankText(cell.value) ? null : cell.value;
}

/** Milliseconds, or a number or text as it is written. */
type Place = number | string;

function compared(a: Place, b: Place, column: Column | undefined): number {
  if (typeof a === "number" || typeof b === "number") return Number(a) - Number(b);
  if (column?.type === "boolean") return Number(a === "true") - Number(b === "true");
  if (column?.type !== "text") return compareDecimals(a, b);
  const [left, right] = [a, b].map((text) => Buffer.from(foldText(text)));
  return Buffer.compare(left ?? Buffer.of(), right ?? Buffer.of());
}
