import type { SheetRow } from "./workbook.js";

/** Where the table of a sheet lies. */
export interface SheetLayout {
  /** The columns that the table has, counted from 0, with their headings. */
  readonly columns: readonly { readonly index: number; readonly heading: string }[];
  /** The row in which the headings end; 0 where there are none. */
  readonly headingRow: number;
  /** Strings above the headings. */
  readonly above: readonly string[];
}

/** Rows from the top among which the headings are looked for. */
export const LAYOUT_ROWS = 200;
const MAX_ABOVE = 50;

/**
 * Finds the headings of a sheet: the first row of nothing but different strings that stands over
 * every column which the rows below it use. Banners above are fewer, notes below come later.
 * Gives the reason in words where no row is like that.
 */
export function findLayout(rows: readonly SheetRow[]): SheetLayout | { readonly reason: string } {
  if (rows.length === 0) return { reason: "the sheet is empty" };
  if (rows.length === 1)
    return { reason: "the sheet has one row that is not empty, and no records" };
  const nearest = { at: -1, lacks: "" };
  for (const [at, row] of rows.slice(0, MAX_ABOVE).entries()) {
    const below = rows.slice(at + 1);
    if (below.length === 0) break;
    const lacks = whatLacks(row, below);
    if (lacks === null) return layoutAt(rows, at);
    if (nearest.at < 0 && filled(row).length > 1) Object.assign(nearest, { at: row.number, lacks });
  }
  const hint = "name the rows above the headings with skip, and the rows of headings with headings";
  return {
    reason:
      nearest.at < 0
        ? `no row of the sheet has headings; ${hint}`
        : `row ${nearest.at} cannot be the headings: ${nearest.lacks}; ${hint}`,
  };
}

/** The layout of a sheet whose heading rows are given; `skip` counts rows from the top. */
export function layoutView(
  rows: readonly SheetRow[],
  skip: number,
  headingRows: number,
): SheetLayout | { readonly reason: string } {
  const above = rows.filter(({ number }) => number <= skip);
  const headings = rows.filter(({ number }) => number > skip && number <= skip + headingRows);
  const below = rows.filter(({ number }) => number > skip + headingRows);
  const last = headings.at(-1);
  if (headingRows > 0 && last === undefined) {
    return { reason: `rows ${skip + 1} to ${skip + headingRows} of the sheet are empty` };
  }
  const used = [...new Set([...headings, ...below].flatMap(filled))].sort((a, b) => a - b);
  const columns = used.map((index, place) => ({
    index,
    heading: headingRows === 0 ? `column${place + 1}` : headingOver(headings, index),
  }));
  return { columns, headingRow: skip + headingRows, above: above.map(textIn) };
}

/** What stands over a column: the text of each row, one that spans columns repeated. */
function headingOver(rows: readonly SheetRow[], index: number): string {
  const parts = rows.map(({ cells }, row) => {
    const isLowest = row === rows.length - 1;
    for (let at = index; at >= 0; at--) {
      const text = cells[at]?.text.replace(/\s+/g, " ").trim() ?? "";
      if (text !== "" || isLowest) return text;
    }
    return "";
  });
  return [...new Set(parts)].filter((part) => part !== "").join(" ");
}

function layoutAt(rows: readonly SheetRow[], at: number): SheetLayout {
  const row = rows[at];
  const columns =
    row === undefined
      ? []
      : filled(row).map((index) => ({
          index,
          heading: row.cells[index]?.text.replace(/\s+/g, " ").trim() ?? "",
        }));
  return {
    columns,
    headingRow: row?.number ?? 0,
    above: rows.slice(0, at).map(textIn),
  };
}

/** Why a row cannot be the headings of the rows below it, or null. */
function whatLacks(row: SheetRow, below: readonly SheetRow[]): string | null {
  const columns = filled(row);
  const other = columns.find((index) => row.cells[index]?.type !== "text");
  if (other !== undefined) return `${cellName(other, row.number)} is not text`;
  const strings = columns.map((index) => row.cells[index]?.text.trim().toLowerCase() ?? "");
  const twice = strings.find((text, index) => strings.indexOf(text) !== index);
  if (twice !== undefined) return `“${twice}” stands in it twice`;
  const own = new Set(columns);
  const bare = below.flatMap(filled).find((index) => !own.has(index));
  if (bare !== undefined) return `column ${letters(bare)} is used below it and has no heading`;
  return null;
}

/** The columns of a row that are not empty. */
export function filled({ cells }: SheetRow): readonly number[] {
  const found: number[] = [];
  cells.forEach((cell, index) => {
    if (cell !== undefined && cell.text.trim() !== "") found.push(index);
  });
  return found;
}

function textIn(row: SheetRow): string {
  return filled(row)
    .map((index) => row.cells[index]?.text.trim() ?? "")
    .join(" ");
}

/** `AB12`. */
export function cellName(column: number, row: number): string {
  return `${letters(column)}${row}`;
}

/** The letters of a column, counted from 0. */
export function letters(column: number): string {
  const [rest, last] = [Math.floor(column / 26) - 1, String.fromCharCode(65 + (column % 26))];
  return rest < 0 ? last : letters(rest) + last;
}
