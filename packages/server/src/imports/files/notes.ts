import { fault } from "@orisma/core/internal";
import type { FileCell, FileRow } from "./table.js";

/** Records that a table has before rows below it can be distinguished from them. */
const LEAST_RECORDS = 3;
/** Rows that are held back as notes; more of them are records. */
const MAX_HELD = 50;

/** A row, with what its reader needs of it beside. */
export interface HeldRow<T> {
  readonly row: FileRow;
  readonly of: T;
}

/**
 * Distinguishes notes in several cells right below a table from its records: at the end of the file, rows
 * with half as many cells as every record or fewer, at least two, and no figure where the records
 * have figures. They are refused, and so listed. Where no column is of figures that is too little
 * to go by: then they are records, and `doubt` is called with it.
 */
export async function* withoutNotes<T>(
  batches: AsyncIterable<readonly HeldRow<T>[]>,
  doubt: (remark: string) => void,
): AsyncGenerator<readonly HeldRow<T>[]> {
  const seen = new RecordsSeen();
  let held: HeldRow<T>[] = [];
  for await (const batch of batches) {
    const out: HeldRow<T>[] = [];
    for (const each of batch) {
      const isRefused = each.row.refused !== undefined;
      if (held.length < MAX_HELD && (isRefused ? held.length > 0 : seen.mayBeNote(each.row))) {
        held.push(each);
        continue;
      }
      for (const earlier of [...held, each]) {
        if (earlier.row.refused === undefined) seen.add(earlier.row.cells);
        out.push(earlier);
      }
      held = [];
    }
    if (out.length > 0) yield out;
  }
  const notes = held.filter(({ row }) => row.refused === undefined).map(({ row }) => row);
  const [first, last] = [notes[0], notes.at(-1)];
  if (first === undefined || last === undefined) {
    if (held.length > 0) yield held;
    return;
  }
  const [cells, least] = [filledIn(first.cells).length, seen.leastFilled];
  if (!seen.hasFigures()) {
    const rows =
      first === last
        ? `row ${first.line}, the last, has`
        : `rows ${first.line} to ${last.line}, the last, have`;
    doubt(`${rows} fewer cells than all others: imported as records, although they may be notes`);
    yield held;
    return;
  }
  const reason = `text in ${cells} cells below a table whose records have ${least} or more: a note, not a record`;
  yield held.map(({ row, of }) => ({
    row: row.refused === undefined ? { ...row, refused: fault("row.place", { reason }) } : row,
    of,
  }));
}

/** What the records so far have alike. */
class RecordsSeen {
  #records = 0;
  /** Cells of the record that has the fewest. */
  leastFilled = Infinity;
  /** Of each column, whether every cell has a figure; absent where there is none. */
  readonly #figures = new Map<number, boolean>();

  add(cells: readonly FileCell[]): void {
    this.#records++;
    const filled = filledIn(cells);
    this.leastFilled = Math.min(this.leastFilled, filled.length);
    for (const index of filled) {
      const has = /\d/.test(cells[index] ?? "");
      this.#figures.set(index, has && this.#figures.get(index) !== false);
    }
  }

  hasFigures(): boolean {
    return [...this.#figures.values()].some(Boolean);
  }

  mayBeNote({ cells }: FileRow): boolean {
    if (this.#records < LEAST_RECORDS) return false;
    const filled = filledIn(cells);
    if (filled.length < 2 || filled.length * 2 > this.leastFilled) return false;
    return filled.every(
      (index) => this.#figures.get(index) !== true || !/\d/.test(cells[index] ?? ""),
    );
  }
}

function filledIn(cells: readonly FileCell[]): readonly number[] {
  return cells.flatMap((cell, index) => ((cell ?? "").trim() === "" ? [] : [index]));
}
