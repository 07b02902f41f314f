import { placed, renderFault, type RenderedFault } from "@orisma/core/internal";
import type { DateCells, FileDescription } from "../files/index.js";
import type { ColumnTally } from "./cells.js";

/** What was made of a column of a file. */
export interface ColumnReport {
  readonly read: number;
  readonly blank: number;
  readonly unreadable: number;
  /** The first unreadable cells: by line of the file, or by record where no file was taken. */
  readonly examples: readonly (RenderedFault & {
    readonly line?: number;
    readonly record?: string;
  })[];
}

/** What was made of a file, or of the texts of a source read anew. */
export interface LoadReport {
  readonly source: string;
  /** Null where no file was taken. */
  readonly load: number | null;
  /** Records of the source now. */
  readonly records: number;
  /** Of them, those that are new, and those that are others than before by their key. */
  readonly added: number;
  readonly changed: number;
  /** Rows of the file that could not be taken at all. */
  readonly refused: number;
  readonly columns: Readonly<Record<string, ColumnReport>>;
  readonly file?: FileDescription & { readonly headings: readonly string[] };
  /** Columns with cells that the sheet shows as dates. */
  readonly dateCells?: Readonly<Record<string, DateCells>>;
  /** Whether the same file had been taken before, so that nothing was done. */
  readonly unchanged?: boolean;
}

/** The tallies of columns, as they are told. */
export function columnReports(
  tallies: ReadonlyMap<string, ColumnTally>,
): Readonly<Record<string, ColumnReport>> {
  const columns = [...tallies].map(([name, tally]) => {
    const examples = tally.examples.map(({ row, value, fault: found }) => ({
      ...(row.id === undefined ? { line: row.line } : { record: row.id }),
      ...renderFault(placed(found, { value })),
    }));
    const { dated: read, blank, unreadable } = tally;
    return [name, { read, blank, unreadable, examples }] as const;
  });
  return Object.fromEntries(columns);
}
