import { fault, type Fault, type SqlValue, type Statement, type StoredTable } from "@orisma/core";
import type { Gateway } from "../database/index.js";
import type { FileRow } from "../files/index.js";
import { columnWriter, type ColumnTally, type ColumnWriter } from "./cells.js";
import type { NewColumn } from "./schema.js";
import { LONGEST_KEY, insertColumns } from "./tables.js";

/** Placeholders of one statement at most; the protocol's own limit is 65,535. */
const MOST_PLACEHOLDERS = 20_000;
const MOST_ROWS = 1_000;

/** Records on their way into a table. */
export interface Filling {
  readonly headings: readonly string[];
  readonly rows: AsyncIterable<readonly FileRow[]>;
  readonly hasIds: boolean;
  /** How each column is understood; those not named are text. */
  readonly columns: ReadonlyMap<string, NewColumn>;
  readonly key: string | null;
  /** Told of every batch: records written so far. Throws to end the filling. */
  readonly onRecords: (records: number) => void;
  /** Takes a row that cannot be taken at all. */
  readonly onRefused: (row: FileRow) => Promise<void>;
}

/** What was written. */
export interface Filled {
  readonly records: number;
  readonly tallies: ReadonlyMap<string, ColumnTally>;
}

/**
 * Writes records into a table, many to a statement, in flat memory: while the database takes
 * one batch, the next is read. A row without a key of its own, or with one that is taken, is
 * refused; all else is as its file has it.
 */
export async function fillTable(
  filling: Filling,
  table: StoredTable,
  gateway: Gateway,
): Promise<Filled> {
  const { headings, columns, key, hasIds } = filling;
  const writers = headings.map((heading) => columnWriter(columns.get(heading) ?? { type: "text" }));
  const keyIndex = key === null ? -1 : headings.indexOf(key);
  const physical = insertColumns(table, headings, key !== null || hasIds);
  const rowsAtOnce = Math.min(MOST_ROWS, Math.floor(MOST_PLACEHOLDERS / physical.length));
  const records = await gateway.write(async (run) => {
    const insert = new Inserter(run, table.table, physical, filling.onRefused);
    let batch: Batch = { rows: [], values: [] };
    for await (const rows of filling.rows) {
      for (const row of rows) {
        const refused = row.refused ?? keyFault(row, keyIndex, key);
        if (refused !== undefined) {
          await filling.onRefused({ ...row, refused });
          continue;
        }
        addRow(row, writers, keyIndex, batch);
        if (batch.rows.length < rowsAtOnce) continue;
        filling.onRecords(await insert.next(batch));
        batch = { rows: [], values: [] };
      }
    }
    await insert.next(batch);
    const written = await insert.end();
    filling.onRecords(written);
    return written;
  });
  const tallies = new Map(
    headings.flatMap((heading, index) => {
      const tally = writers[index]?.tally ?? null;
      return tally === null ? [] : [[heading, tally] as const];
    }),
  );
  return { records, tallies };
}

interface Batch {
  readonly rows: FileRow[];
  readonly values: SqlValue[];
}

/** Writes batches one behind the other, and is never more than one behind. */
class Inserter {
  #records = 0;
  #running: Promise<void> = Promise.resolve();

  constructor(
    private readonly run: (statement: Statement) => Promise<void>,
    private readonly table: string,
    private readonly columns: readonly string[],
    private readonly onRefused: (row: FileRow) => Promise<void>,
  ) {}

  /** Waits for the batch before, and begins this one; gives the records written so far. */
  async next(batch: Batch): Promise<number> {
    await this.#running;
    this.#running = this.#insert(batch);
    // Whoever waits for it next hears of its failure.
    this.#running.catch(() => undefined);
    return this.#records;
  }

  async end(): Promise<number> {
    await this.#running;
    return this.#records;
  }

  /** Rows at fault are found by halving the batch: the database takes a statement whole or not. */
  async #insert({ rows, values }: Batch): Promise<void> {
    if (rows.length === 0) return;
    try {
      await this.run(insertStatement(this.table, this.columns, rows.length, values));
      this.#records += rows.length;
    } catch (error) {
      const refused = rowFault(error);
      if (refused === null) throw error;
      const [row] = rows;
      if (rows.length === 1 && row !== undefined) {
        await this.onRefused({ ...row, refused });
        return;
      }
      const half = Math.ceil(rows.length / 2);
      const split = half * this.columns.length;
      await this.#insert({ rows: rows.slice(0, half), values: values.slice(0, split) });
      await this.#insert({ rows: rows.slice(half), values: values.slice(split) });
    }
  }
}

function addRow(
  row: FileRow,
  writers: readonly ColumnWriter[],
  keyIndex: number,
  { rows, values }: Batch,
): void {
  const { cells, id } = row;
  if (id !== undefined) values.push(id);
  else if (keyIndex >= 0) values.push((cells[keyIndex] ?? "").trim());
  for (let index = 0; index < writers.length; index++) {
    writers[index]?.write(cells[index] ?? null, row, values);
  }
  rows.push(row);
}

function keyFault({ cells, id }: FileRow, keyIndex: number, key: string | null) {
  if (keyIndex < 0 || id !== undefined) return undefined;
  const text = (cells[keyIndex] ?? "").trim();
  if (text !== "" && text.length <= LONGEST_KEY) return undefined;
  const reason =
    text === ""
      ? `it has no ${key ?? "key"}, which is the key`
      : `its key is longer than ${LONGEST_KEY} signs`;
  return fault("row.key", { reason });
}

function insertStatement(
  table: string,
  columns: readonly string[],
  rows: number,
  values: readonly SqlValue[],
): Statement {
  const row = `(${columns.map(() => "?").join(",")})`;
  const text = `INSERT INTO ${table} (${columns.join(",")}) VALUES ${new Array(rows).fill(row).join(",")}`;
  return { text, values };
}

/** What the database has against one row; null for a failure of its own. */
function rowFault(error: unknown): Fault | null {
  if (!(error instanceof Error && "errno" in error)) return null;
  if (error.errno === DUPLICATE_KEY) {
    const key = /^Duplicate entry '(.*)' for key/.exec(error.message)?.[1] ?? "";
    return fault("row.key", { reason: `the key “${key}” is that of another record` });
  }
  if (error.errno !== ROW_TOO_WIDE) return null;
  const reason =
    "its cells together are more than the database holds in one row: take fewer columns";
  return fault("row.form", { reason });
}

const DUPLICATE_KEY = 1062;
const ROW_TOO_WIDE = 1118;
