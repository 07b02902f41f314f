import { LONGEST_KEY, insertColumns, type DictionaryBuilders } from "../sources/index.js";
import type { ColumnDeclaration } from "@orisma/contract";
import {
  fault,
  type Fault,
  type SqlValue,
  type Statement,
  type ImportedTable,
} from "@orisma/core/internal";
import type { Gateway } from "../database/index.js";
import type { FileRow } from "./files/index.js";
import { columnWriter, type ColumnTally, type ColumnWriter } from "./cell-writer.js";

/**
 * Placeholders of one statement at most: the protocol's own limit is 65,535, but the values of
 * so few die young, which keeps memory flat.
 */
const MAX_PLACEHOLDERS = 8_000;
const MAX_ROWS = 1_000;

/** Records on their way into a table. */
export interface Filling {
  readonly headings: readonly string[];
  readonly rows: AsyncIterable<readonly FileRow[]>;
  /** The number of the first record, where records have neither an id nor a key. */
  readonly firstId: number;
  /** How each column is understood; those not named are text. */
  readonly columns: ReadonlyMap<string, ColumnDeclaration>;
  readonly key: string | null;
  /** The dictionaries of the table: values get their numbers as they come. */
  readonly dictionaries: DictionaryBuilders;
  /** Called after every batch with the records written so far. Throws to end the filling. */
  readonly onRecords: (records: number) => void;
  /** Takes a row that cannot be imported. */
  readonly onRefused: (row: FileRow) => Promise<void>;
}

/** What was written. */
export interface Filled {
  readonly records: number;
  readonly tallies: ReadonlyMap<string, ColumnTally>;
}

/**
 * Writes records into a fresh table, many to a statement, in flat memory: while the database
 * takes one batch, the next is read. A row without a key of its own, or with one that is taken, is
 * refused; all else is as its file has it.
 */
export async function fillTable(
  filling: Filling,
  table: ImportedTable,
  gateway: Gateway,
): Promise<Filled> {
  const { headings, columns, key, dictionaries } = filling;
  const writers = headings.map((heading) =>
    columnWriter(columns.get(heading) ?? { type: "text" }, dictionaries.get(heading)),
  );
  const keyIndex = key === null ? -1 : headings.indexOf(key);
  const physical = insertColumns(table, headings);
  const rowsAtOnce = Math.min(MAX_ROWS, Math.floor(MAX_PLACEHOLDERS / physical.length));
  const records = await gateway.write(async (one) =>
    gateway.write(async (other) => {
      const insert = new Inserter([one, other], table.table, physical, filling.onRefused);
      let batch: Batch = { rows: [], values: [] };
      let number = filling.firstId;
      for await (const rows of filling.rows) {
        for (const row of rows) {
          const refused = row.refused ?? keyFault(row, keyIndex, key);
          if (refused !== undefined) {
            await filling.onRefused({ ...row, refused });
            continue;
          }
          batch.values.push(row.id ?? (keyIndex < 0 ? number++ : keyOf(row, keyIndex)));
          addCells(row, writers, batch);
          if (batch.rows.length < rowsAtOnce) continue;
          filling.onRecords(await insert.next(batch));
          batch = { rows: [], values: [] };
        }
      }
      await insert.next(batch);
      const written = await insert.end();
      filling.onRecords(written);
      return written;
    }),
  );
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

type Run = (statement: Statement) => Promise<void>;

/** A batch that the database is taking, and what it has against it in the end. */
interface Sent {
  readonly batch: Batch;
  readonly failure: Promise<Error | null>;
}

/**
 * Writes batches over two connections, so that one is made ready while the database takes the
 * other. Of records with the same key the first of the file is taken, whichever comes first.
 */
class Inserter {
  #records = 0;
  #before: Sent | null = null;
  #turn = 0;

  constructor(
    private readonly runs: readonly [Run, Run],
    private readonly table: string,
    private readonly columns: readonly string[],
    private readonly onRefused: (row: FileRow) => Promise<void>,
  ) {}

  /** Sends a batch, and waits for the one before it; gives the records written so far. */
  async next(batch: Batch): Promise<number> {
    if (batch.rows.length === 0) return this.#records;
    const before = this.#before;
    const sent = this.#send(batch);
    this.#before = sent;
    if (before !== null) await this.#confirm(before, sent);
    return this.#records;
  }

  async end(): Promise<number> {
    if (this.#before !== null) await this.#confirm(this.#before, null);
    return this.#records;
  }

  #send(batch: Batch): Sent {
    const run = this.runs[this.#turn++ % 2 === 0 ? 0 : 1];
    const failure = run(insertStatement(this.table, this.columns, batch)).then(
      () => null,
      (error: unknown) => (error instanceof Error ? error : new Error(String(error))),
    );
    return { batch, failure };
  }

  /** Counts a batch that was taken; else takes back the one after it, and writes both by halves. */
  async #confirm(sent: Sent, after: Sent | null): Promise<void> {
    const error = await sent.failure;
    if (error === null) {
      this.#records += sent.batch.rows.length;
      return;
    }
    const isTaken = after !== null && (await after.failure) === null;
    if (rowFault(error) === null && !isDeadlock(error)) throw error;
    if (isTaken) await this.runs[0](deleteStatement(this.table, this.columns, after.batch));
    await this.#halve(sent.batch);
    if (after !== null) await this.#halve(after.batch);
    this.#before = null;
  }

  /** Finds the rows at fault by halving: the database takes a statement whole or not at all. */
  async #halve(batch: Batch): Promise<void> {
    const { rows, values } = batch;
    try {
      await this.runs[0](insertStatement(this.table, this.columns, batch));
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
      await this.#halve({ rows: rows.slice(0, half), values: values.slice(0, split) });
      await this.#halve({ rows: rows.slice(half), values: values.slice(split) });
    }
  }
}

function addCells(row: FileRow, writers: readonly ColumnWriter[], { rows, values }: Batch): void {
  for (let index = 0; index < writers.length; index++) {
    writers[index]?.write(row.cells[index] ?? null, row, values);
  }
  rows.push(row);
}

function keyOf({ cells }: FileRow, keyIndex: number): string {
  return (cells[keyIndex] ?? "").trim();
}

function keyFault(row: FileRow, keyIndex: number, key: string | null): Fault | undefined {
  if (keyIndex < 0 || row.id !== undefined) return undefined;
  const text = keyOf(row, keyIndex);
  if (text !== "" && text.length <= LONGEST_KEY) return undefined;
  const reason =
    text === ""
      ? `it has no ${key ?? "key"}, which is the key`
      : `its key is longer than ${LONGEST_KEY} characters`;
  return fault("row.key", { reason });
}

function insertStatement(
  table: string,
  columns: readonly string[],
  { rows, values }: Batch,
): Statement {
  const row = `(${columns.map(() => "?").join(",")})`;
  const placeholders = new Array<string>(rows.length).fill(row).join(",");
  return { text: `INSERT INTO ${table} (${columns.join(",")}) VALUES ${placeholders}`, values };
}

/** Takes records back by their keys, each the first value of its row. */
function deleteStatement(
  table: string,
  [key = "", ...others]: readonly string[],
  { rows, values }: Batch,
): Statement {
  const keys = rows.map((_, index) => values[index * (others.length + 1)] ?? null);
  return {
    text: `DELETE FROM ${table} WHERE ${key} IN (${keys.map(() => "?").join(",")})`,
    values: keys,
  };
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

/** Two statements that waited for each other, of which the database ended one. */
function isDeadlock(error: unknown): boolean {
  return error instanceof Error && "errno" in error && error.errno === DEADLOCK;
}

const DEADLOCK = 1213;
const DUPLICATE_KEY = 1062;
const ROW_TOO_WIDE = 1118;
