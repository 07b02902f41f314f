import { Readable } from "node:stream";
import { pipeline } from "node:stream/promises";
import { fault, type Fault, type SqlValue, type Statement, type StoredTable } from "@orisma/core";
import { parse as csvParser, CsvError } from "csv-parse";
import type { Gateway } from "../database/index.js";
import { Problem, problemOf } from "../http/index.js";
import { columnWriter, type ColumnTally, type ColumnWriter } from "./cells.js";
import type { NewColumn } from "./schema.js";
import { LONGEST_KEY, insertColumns } from "./tables.js";

/** Placeholders of one statement at most; the protocol's own limit is 65,535. */
const MOST_PLACEHOLDERS = 20_000;
const MOST_ROWS = 1_000;
/** Signs of one cell, and of one line, at most. */
const LONGEST_RECORD = 4_000_000;
const LONGEST_HEADING = 128;

/** One record of a delimited file. */
export interface FileRecord {
  readonly cells: readonly string[];
  /** The id that the record has already; else its key column gives one, or the database. */
  readonly id?: string;
  /** The line of the file on which it ends, counted from 1. */
  readonly line: number;
}

/** A delimited file being read: its headings, then its records. */
export interface OpenedFile {
  readonly headings: readonly string[];
  readonly records: AsyncIterable<FileRecord>;
  /** Whether each record has its id already. */
  readonly hasIds: boolean;
}

/** What was taken from a file. */
export interface Loaded {
  readonly records: number;
  readonly tallies: ReadonlyMap<string, ColumnTally>;
}

/**
 * Begins to read a comma-separated file (RFC 4180, UTF-8 with or without byte order mark) with
 * one heading row. Throws a problem that says on which line the file is at fault.
 */
export async function openFile(body: Readable): Promise<OpenedFile> {
  const parser = csvParser({ bom: true, info: true, max_record_size: LONGEST_RECORD });
  // The failure reaches whoever reads the records: the pipeline passes it on to the parser.
  pipeline(Readable.from(decoded(body)), parser).catch(() => undefined);
  const records = recordsOf(parser);
  const first = await records.next();
  if (first.done === true) throw problemOf([shape("the file is empty")]);
  const headings = first.value.cells.map((heading) => heading.trim());
  const faults = headingFaults(headings);
  if (faults.length > 0) throw problemOf(faults);
  return { headings, records, hasIds: false };
}

/** Leaves the body open at the end, so that an early refusal can still be answered. */
async function* decoded(body: Readable): AsyncGenerator<string> {
  const decoder = new TextDecoder("utf-8", { fatal: true });
  const decode = (bytes: Buffer, isLast: boolean) => {
    try {
      return decoder.decode(bytes, { stream: !isLast });
    } catch {
      throw problemOf([shape("the file is not UTF-8 text")]);
    }
  };
  for await (const chunk of body.iterator({ destroyOnReturn: false })) {
    yield decode(chunk as Buffer, false);
  }
  yield decode(Buffer.alloc(0), true);
}

async function* recordsOf(parser: ReturnType<typeof csvParser>): AsyncGenerator<FileRecord> {
  try {
    for await (const { record, info } of parser as AsyncIterable<{
      record: string[];
      info: { lines: number };
    }>) {
      yield { cells: record, line: info.lines };
    }
  } catch (error) {
    if (error instanceof Problem) throw error;
    throw problemOf([shape(readingFailure(error))]);
  }
}

function readingFailure(error: unknown): string {
  if (error instanceof CsvError) return `the file cannot be read as CSV: ${error.message}`;
  return "the file ended before it was complete";
}

function headingFaults(headings: readonly string[]): readonly Fault[] {
  const seen = new Set<string>();
  return headings.flatMap((heading, index) => {
    const place = { path: `headings.${index}`, value: heading };
    const lower = heading.toLowerCase();
    const repeated = seen.has(lower);
    seen.add(lower);
    const refuse = (reason: string) => [fault("document.shape", { reason }, place)];
    if (heading === "") return refuse("a heading is empty");
    if (heading.length > LONGEST_HEADING) {
      return refuse(`a heading is longer than ${LONGEST_HEADING} signs`);
    }
    return repeated ? refuse(`the heading “${heading}” stands twice`) : [];
  });
}

/**
 * Writes the records of a file into a table, many to a statement, in flat memory.
 * Throws a problem for a missing, too long or repeated key, with its line.
 */
export async function loadRecords(
  file: OpenedFile,
  table: StoredTable,
  columns: ReadonlyMap<string, NewColumn>,
  key: string | null,
  gateway: Gateway,
): Promise<Loaded> {
  const writers = file.headings.map((heading) =>
    columnWriter(columns.get(heading) ?? { type: "text" }),
  );
  const keyIndex = key === null ? -1 : file.headings.indexOf(key);
  const physical = insertColumns(table, key !== null || file.hasIds);
  const rowsAtOnce = Math.min(MOST_ROWS, Math.floor(MOST_PLACEHOLDERS / physical.length));
  let records = 0;
  await gateway.write(async (run) => {
    const flush = async (rows: readonly (readonly SqlValue[])[], line: number) => {
      if (rows.length === 0) return;
      await run(insertStatement(table.table, physical, rows)).catch((error: unknown) => {
        throw duplicateKey(error, line) ?? error;
      });
      records += rows.length;
    };
    let rows: (readonly SqlValue[])[] = [];
    let line = 0;
    for await (const record of file.records) {
      ({ line } = record);
      rows.push(rowOf(record, writers, keyIndex));
      if (rows.length < rowsAtOnce) continue;
      await flush(rows, line);
      rows = [];
    }
    await flush(rows, line);
  });
  const tallies = new Map(
    file.headings.flatMap((heading, index) => {
      const tally = writers[index]?.tally ?? null;
      return tally === null ? [] : [[heading, tally] as const];
    }),
  );
  return { records, tallies };
}

function rowOf(
  { cells, line, id }: FileRecord,
  writers: readonly ColumnWriter[],
  keyIndex: number,
): readonly SqlValue[] {
  const values = writers.flatMap((writer, index) => writer.write(cells[index] ?? "", line));
  if (id !== undefined) return [id, ...values];
  return keyIndex < 0 ? values : [keyOf(cells[keyIndex] ?? "", line), ...values];
}

function keyOf(text: string, line: number): string {
  const key = text.trim();
  if (key === "") throw problemOf([shape(`line ${line} has no key`)]);
  if (key.length <= LONGEST_KEY) return key;
  throw problemOf([shape(`line ${line} has a key longer than ${LONGEST_KEY} signs`)]);
}

function insertStatement(
  table: string,
  columns: readonly string[],
  rows: readonly (readonly SqlValue[])[],
): Statement {
  const row = `(${columns.map(() => "?").join(",")})`;
  return {
    text: `INSERT INTO ${table} (${columns.join(",")}) VALUES ${rows.map(() => row).join(",")}`,
    values: rows.flat(),
  };
}

/** The database's "duplicate entry", as a fault of the file. */
function duplicateKey(error: unknown, line: number): Error | null {
  const isDuplicate = error instanceof Error && "errno" in error && error.errno === 1062;
  if (!isDuplicate) return null;
  const value = /^Duplicate entry '(.*)' for key/.exec(error.message)?.[1] ?? "";
  return problemOf([shape(`the key “${value}” stands twice in the file, by line ${line}`)]);
}

function shape(reason: string): Fault {
  return fault("document.shape", { reason });
}
