import type { FileOptions, TextEncoding } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import Papa from "papaparse";
import { problemOf } from "../../http/index.js";
import { headText, textOf } from "./encoding.js";
import { headingDoubt } from "./headings.js";
import { withoutNotes } from "./notes.js";
import { HEAD_BYTES, type SpooledFile } from "./spool.js";
import {
  LONGEST_RECORD,
  broken,
  distinctHeadings,
  fitRow,
  headingFaults,
  joinHeadings,
  numberedHeadings,
  type FileRow,
  type FileTable,
} from "./table.js";

/** The delimiters that are looked for, the likelier first. */
const DELIMITERS = [",", ";", "\t", "|"] as const;
/** The share of a sample's rows that have as many cells as its headings. */
const LEAST_REGULAR = 0.5;
/** The headings of the first columns of a list of refused rows: they are omitted again. */
export const REFUSED_HEADINGS = ["refused_line", "refused_because"] as const;

/**
 * Opens delimited text: RFC 4180 with any delimiter, which is found where it is not named, and
 * any number of heading rows.
 */
export async function openDelimited(
  file: SpooledFile,
  encoding: TextEncoding,
  found: readonly string[],
  options: FileOptions,
): Promise<FileTable> {
  const remarks = [...found];
  const sample = sampleOf(file, encoding);
  const returned = /^sep=(.)\n/.exec(sample)?.[1];
  const skip = (options.skip ?? 0) + (returned === undefined ? 0 : 1);
  const delimiter = options.delimiter ?? returned ?? findDelimiter(sample, skip);
  let readBytes = 0;
  const text = textOf(file, encoding, (bytes) => (readBytes = bytes));
  const headingRows = options.headings ?? 1;
  const opened = await readHeadings(parsed(text, delimiter), skip, headingRows);
  const { isRefusedList, headings: written } = withoutRefusals(opened.headings);
  const headings = distinctHeadings(written, options, remarks);
  const faults = headingFaults(headings);
  if (faults.length > 0) throw problemOf(faults);
  if (options.headings === undefined && !isRefusedList) {
    const below = read(sample, delimiter, false)
      .rows.filter(isRow)
      .slice(skip + 1);
    const cells = below.map((row) => row.cells);
    const doubt = headingDoubt(opened.headings, cells, opened.headingLine, "the first");
    if (doubt !== null) remarks.push(doubt);
  }
  const rows = fitted(opened.rest, headings.length, isRefusedList ? 2 : 0, options);
  return {
    description: {
      format: "delimited",
      encoding,
      delimiter,
      headingRows,
      headingLine: opened.headingLine,
      above: opened.above,
      remarks,
    },
    headings,
    rows: recordsOf(rows, (remark) => remarks.push(remark)),
    progress: () => (file.bytes === 0 ? 1 : readBytes / file.bytes),
    stated: () => new Map(),
    dateCells: () => new Map(),
  };
}

/** Whole lines from the beginning of a file. */
function sampleOf(file: SpooledFile, encoding: TextEncoding): string {
  const text = headText(file, encoding).replace(/\r\n?/g, "\n");
  if (file.bytes <= HEAD_BYTES && text.length <= SAMPLE) return text;
  const whole = text.lastIndexOf("\n", SAMPLE) + 1;
  return whole > 0 ? text.slice(0, whole) : text.slice(0, text.lastIndexOf("\n") + 1);
}

/** Characters in which the delimiter is looked for, and records like the headings. */
const SAMPLE = 65_536;

/** The delimiter under which most rows of a sample have as many cells as the headings. */
function findDelimiter(sample: string, skip: number): string {
  const found = DELIMITERS.map((delimiter) => {
    const rows = read(sample, delimiter, false)
      .rows.filter(({ cells }) => cells.length > 1 || cells[0] !== "")
      .slice(skip);
    const width = rows[0]?.cells.length ?? 0;
    const regular = rows.filter(({ cells }) => cells.length === width).length / rows.length;
    return { delimiter, width, regular };
  }).filter(({ width, regular }) => width > 1 && regular >= LEAST_REGULAR);
  found.sort((a, b) => b.regular - a.regular || b.width - a.width);
  return found[0]?.delimiter ?? ",";
}

interface ParsedRow {
  readonly cells: readonly string[];
  readonly line: number;
  /** What is wrong with its quotes. */
  readonly quotes?: string;
}

/** Reads all rows of a text that are whole, and reports where the first that is not begins. */
function read(text: string, delimiter: string, keepsLast: boolean, firstLine = 1) {
  const parser = new Papa.Parser({ delimiter, newline: "\n", quoteChar: '"' });
  const { data, errors, meta } = parser.parse(text, 0, keepsLast) as Papa.ParseResult<string[]>;
  const faults = new Map(
    errors.flatMap(({ row, message }) => (row === undefined ? [] : [[row, message]])),
  );
  const mayBreak = text.includes('"');
  let line = firstLine;
  const rows = data.map((cells, index): ParsedRow => {
    const begins = line;
    line += 1 + (mayBreak ? breaksIn(cells) : 0);
    const quotes = faults.get(index);
    return quotes === undefined ? { cells, line: begins } : { cells, line: begins, quotes };
  });
  return { rows, end: keepsLast ? meta.cursor : text.length, line };
}

function breaksIn(cells: readonly string[]): number {
  let breaks = 0;
  for (const cell of cells) {
    for (let at = cell.indexOf("\n"); at >= 0; at = cell.indexOf("\n", at + 1)) breaks++;
  }
  return breaks;
}

/** The rows of a text that comes in pieces; blank lines are no rows. */
async function* parsed(
  text: AsyncIterable<string>,
  delimiter: string,
): AsyncGenerator<readonly ParsedRow[]> {
  let rest = "";
  let line = 1;
  // A record that is not whole is read again only once it is twice as long.
  let enough = 0;
  for await (const piece of text) {
    rest += piece;
    if (rest.length < enough) continue;
    const found = read(rest, delimiter, true, line);
    ({ line } = found);
    rest = rest.slice(found.end);
    enough = found.rows.length > 0 ? 0 : Math.min(2 * rest.length, LONGEST_RECORD);
    if (rest.length > LONGEST_RECORD) {
      const reason = `a record that begins on line ${line} is longer than ${LONGEST_RECORD} characters`;
      const most = "a quote that is never closed makes such a record";
      throw problemOf([fault("file.limit", { reason, most })]);
    }
    if (found.rows.length > 0) yield found.rows;
  }
  if (rest === "") return;
  const { rows } = read(rest, delimiter, false, line);
  const last = rows.at(-1);
  if (last?.quotes !== undefined && /quoted field unterminated/i.test(last.quotes)) {
    throw broken("the file ends inside quotes that begin here", last.line);
  }
  // What follows the last line end is no row.
  yield rest.endsWith("\n") ? rows.slice(0, -1) : rows;
}

async function readHeadings(
  batches: AsyncGenerator<readonly ParsedRow[]>,
  skip: number,
  headingRows: number,
) {
  const first: ParsedRow[] = [];
  // With no headings one row is read all the same, to count its cells.
  const wanted = skip + Math.max(1, headingRows);
  while (first.length < wanted) {
    const next = await batches.next();
    if (next.done === true) break;
    first.push(...next.value.filter(isRow));
  }
  const above = first.slice(0, skip);
  const rows = first.slice(skip, skip + headingRows);
  const data = first.slice(skip + headingRows);
  if (rows.length < headingRows || first.length <= skip) {
    throw broken(`the file has ${first.length} lines, fewer than its headings need`);
  }
  const width = Math.max(0, ...rows.map(({ cells }) => cells.length));
  const headings =
    headingRows === 0
      ? numberedHeadings(data[0]?.cells.length ?? 0)
      : joinHeadings(
          rows.map(({ cells }) => cells),
          width,
        );
  const last = rows.at(-1);
  return {
    headings,
    headingLine: last === undefined ? 0 : last.line + breaksIn(last.cells),
    above: above.map(({ cells }) => cells.join(" ").trim()).filter((text) => text !== ""),
    rest: chained(data, batches),
  };
}

async function* chained(
  first: readonly ParsedRow[],
  batches: AsyncGenerator<readonly ParsedRow[]>,
): AsyncGenerator<readonly ParsedRow[]> {
  if (first.length > 0) yield first;
  yield* batches;
}

function isRow({ cells }: ParsedRow): boolean {
  return cells.length > 1 || cells[0] !== "";
}

function withoutRefusals(headings: readonly string[]) {
  const isRefusedList = REFUSED_HEADINGS.every((each, index) => headings[index] === each);
  return { isRefusedList, headings: isRefusedList ? headings.slice(2) : headings };
}

/** The records, without notes below them. */
async function* recordsOf(
  batches: AsyncIterable<readonly FileRow[]>,
  doubt: (remark: string) => void,
): AsyncGenerator<readonly FileRow[]> {
  const held = async function* () {
    for await (const batch of batches) yield batch.map((row) => ({ row, of: null }));
  };
  for await (const batch of withoutNotes(held(), doubt)) yield batch.map(({ row }) => row);
}

async function* fitted(
  batches: AsyncIterable<readonly ParsedRow[]>,
  width: number,
  from: number,
  { shortRows }: FileOptions,
): AsyncGenerator<readonly FileRow[]> {
  for await (const batch of batches) {
    // A blank line is a record of a file with one column, and nothing in any other.
    const rows = width === 1 ? batch : batch.filter(isRow);
    yield rows.map(({ cells, line, quotes }): FileRow => {
      const own = from === 0 ? cells : cells.slice(from);
      if (quotes === undefined) return fitRow(own, line, width, shortRows);
      const reason = "its quotes are not in pairs, as RFC 4180 wants them";
      return { cells: own, line, refused: fault("row.form", { reason }) };
    });
  }
}
