import type { DateCells, FileDescription, FileOptions } from "@orisma/contract";
import { fault, type Fault } from "@orisma/core/internal";
import { problemOf, type Problem } from "../../http/index.js";
import type { StatedCells } from "./stated-types.js";

/** A cell of a file as it came; null where the file says that there is nothing. */
export type FileCell = string | null;

/** One record of a file. */
export interface FileRow {
  readonly cells: readonly FileCell[];
  /** The line of the file on which it begins, or its row in a sheet, counted from 1. */
  readonly line: number;
  /** Why it cannot be imported; then its cells are as they came, however many. */
  readonly refused?: Fault;
  /** The id that the record has already; else its key column gives one, or the database. */
  readonly id?: string;
}

/** A file with its headings read, whose records are yet to be read. */
export interface FileTable {
  readonly description: FileDescription;
  readonly headings: readonly string[];
  /** Read once, in batches. */
  readonly rows: AsyncIterable<readonly FileRow[]>;
  /** The share of the file that has been read, 0 to 1. */
  progress(): number;
  /**
   * What the file says of the cells of its columns: of the first of them at once, and of all of them
   * after the records were read.
   */
  stated(): ReadonlyMap<string, StatedCells>;
  /** From now on gives the dates of some columns as the numbers that a workbook stores, and not as it shows them. */
  asNumbers?(columns: ReadonlySet<string>): void;
  /** After the records were read: the columns that hold cells formatted as dates. */
  dateCells(): ReadonlyMap<string, DateCells>;
}

/** A remark on the records behind the last one that is wanted. */
export function omittedRemark(count: number, lastRow: number): string {
  const [records, are] = count === 1 ? ["record", "is"] : ["records", "are"];
  return `${count} ${records} behind row ${lastRow}, the last that is wanted, ${are} omitted`;
}

/** A table without what stands behind a row, of which a remark says how much it is. */
export function upToRow(table: FileTable, lastRow: number): FileTable {
  const { rows, description } = table;
  const own: string[] = [];
  async function* wanted() {
    let omitted = 0;
    for await (const batch of rows) {
      const kept = batch.filter(({ line }) => line <= lastRow);
      omitted += batch.length - kept.length;
      if (kept.length > 0) yield kept;
    }
    if (omitted > 0) own.push(omittedRemark(omitted, lastRow));
  }
  return {
    ...table,
    description: {
      ...description,
      // Some are made while the records are read.
      get remarks() {
        return [...description.remarks, ...own];
      },
    },
    rows: wanted(),
  };
}

/** Characters of one record at most, and of one heading. */
export const LONGEST_RECORD = 1_000_000;
export const LONGEST_HEADING = 128;
/** Columns that a file may have and be looked at. */
export const MAX_COLUMNS = 2_000;

/** What to do with a row that has fewer cells than there are headings. */
export type ShortRows = "refuse" | "blank";

/** Makes a row fit the headings, or refuses it: empty cells beyond them are nothing lost. */
export function fitRow(
  cells: readonly FileCell[],
  line: number,
  width: number,
  shortRows: ShortRows,
): FileRow {
  if (cells.length === width) return { cells, line };
  if (cells.length < width && shortRows === "blank") {
    return { cells: [...cells, ...new Array<null>(width - cells.length).fill(null)], line };
  }
  if (cells.length > width && cells.slice(width).every((cell) => cell === null || cell === "")) {
    return { cells: cells.slice(0, width), line };
  }
  const refused = fault("row.cells", { found: cells.length, expected: width });
  return { cells, line, refused };
}

/** A problem with a file as a whole, or with one line of it. */
export function broken(reason: string, line: number | null = null): Problem {
  return problemOf([fault("file.broken", { line, reason })]);
}

/** Headings that cannot be column names; all faults at once. */
export function headingFaults(headings: readonly string[]): readonly Fault[] {
  if (headings.length > MAX_COLUMNS) {
    const reason = `the file has ${headings.length} columns`;
    return [fault("file.limit", { reason, most: `${MAX_COLUMNS} columns at most` })];
  }
  const seen = new Map<string, number>();
  return headings.flatMap((heading, index) => {
    const place = { path: `headings.${index}`, value: heading };
    const refuse = (reason: string) => [fault("file.headings", { reason }, place)];
    const column = index + 1;
    if (heading === "") return refuse(`column ${column} has no heading`);
    if (heading.length > LONGEST_HEADING) {
      return refuse(`the heading of column ${column} is longer than ${LONGEST_HEADING} characters`);
    }
    const before = seen.get(heading.toLowerCase());
    seen.set(heading.toLowerCase(), column);
    if (before === undefined) return [];
    return [
      fault(
        "file.headings",
        {
          reason: `the heading “${heading}” stands twice, over columns ${before} and ${column}`,
          accepted: "headings that are all different, or duplicates=number, which numbers them",
        },
        place,
      ),
    ];
  });
}

/** The headings of a file, where it is wanted with numbers behind those that repeat; what became of them is remarked. */
export function distinctHeadings(
  headings: readonly string[],
  { duplicates }: Pick<FileOptions, "duplicates">,
  remarks: string[],
): readonly string[] {
  if (duplicates !== "number") return headings;
  const taken = new Set(headings.map((heading) => heading.toLowerCase()));
  const seen = new Set<string>();
  return headings.map((heading, index) => {
    const small = heading.toLowerCase();
    if (!seen.has(small)) {
      seen.add(small);
      return heading;
    }
    let number = 2;
    while (taken.has(`${small} ${number}`)) number++;
    const name = `${heading} ${number}`;
    taken.add(name.toLowerCase());
    seen.add(name.toLowerCase());
    remarks.push(`The heading “${heading}” of column ${index + 1} stands before: it is “${name}”.`);
    return name;
  });
}

/** Several heading rows in one: what stands in each, with a space; a gap repeats its left. */
export function joinHeadings(rows: readonly (readonly FileCell[])[], width: number): string[] {
  const upper = rows.slice(0, -1).map((row) => {
    let last = "";
    return Array.from({ length: width }, (_, index) => (last = textOf(row[index]) || last));
  });
  const lowest = rows.at(-1) ?? [];
  return Array.from({ length: width }, (_, index) => {
    const parts = [...upper.map((row) => row[index] ?? ""), textOf(lowest[index])];
    return [...new Set(parts)].filter((part) => part !== "").join(" ");
  });
}

/** `column1`, `column2` …: names for a file without headings. */
export function numberedHeadings(width: number): string[] {
  return Array.from({ length: width }, (_, index) => `column${index + 1}`);
}

function textOf(cell: FileCell | undefined): string {
  return (cell ?? "").replace(/\s+/g, " ").trim();
}
