import type { TextEncoding } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import { isLosslessNumber, parse, stringify } from "lossless-json";
import { Turns, hasHalves, mayHoldHalves, problemOf } from "../../http/index.js";
import { textOf } from "./encoding.js";
import type { SpooledFile } from "./spool.js";
import { StatedTypes } from "./stated-types.js";
import {
  LONGEST_RECORD,
  MAX_COLUMNS,
  broken,
  headingFaults,
  type FileCell,
  type FileRow,
  type FileTable,
} from "./table.js";

/** The text of one record, and the line on which it begins. */
interface RecordText {
  readonly text: string;
  readonly line: number;
}

type Pieces = (text: AsyncIterable<string>) => AsyncGenerator<readonly RecordText[]>;

/**
 * Opens objects of JSON (RFC 8259): one a line, or the elements of one array. The columns are
 * the names of all objects, in the order in which they first come. Numbers keep every digit;
 * values that have parts of their own are kept as JSON text.
 */
export async function openJson(
  file: SpooledFile,
  format: "json" | "ndjson",
  encoding: TextEncoding,
  remarks: readonly string[],
): Promise<FileTable> {
  const pieces = format === "json" ? elementsOf : linesOf;
  const { headings, stated } = await namesIn(file, encoding, pieces);
  let read = 0;
  return {
    description: { format, encoding, headingRows: 0, headingLine: 0, above: [], remarks },
    headings,
    rows: rowsOf(pieces(textOf(file, encoding, (bytes) => (read = bytes))), headings),
    progress: () => read / file.bytes,
    stated: () => stated.cells,
    dateCells: () => new Map(),
  };
}

/** The names of all objects, and what they hold: a record late in the file may be the first to have one. */
async function namesIn(file: SpooledFile, encoding: TextEncoding, pieces: Pieces) {
  const names = new Set<string>();
  const stated = new StatedTypes();
  const turns = new Turns();
  for await (const batch of pieces(textOf(file, encoding, () => undefined))) {
    for (const each of batch) {
      checkValues(each);
      await turns.pause();
      const record = objectIn(each.text);
      if (record === null) continue;
      for (const [name, value] of Object.entries(record)) {
        names.add(name);
        if (value === null) continue;
        const type = isLosslessNumber(value)
          ? "number"
          : typeof value === "boolean"
            ? "boolean"
            : "other";
        stated.add(name, type, cellOf(value) ?? "");
      }
      if (names.size > MAX_COLUMNS) throw problemOf(headingFaults([...names]));
    }
  }
  if (names.size === 0) throw broken("no object with a name and a value was found");
  const faults = headingFaults([...names]);
  if (faults.length > 0) throw problemOf(faults);
  return { headings: [...names], stated };
}

async function* rowsOf(
  batches: AsyncIterable<readonly RecordText[]>,
  headings: readonly string[],
): AsyncGenerator<readonly FileRow[]> {
  for await (const batch of batches) {
    yield batch.map(({ text, line }): FileRow => {
      const record = objectIn(text);
      if (record !== null) {
        const cells = headings.map((name) => cellOf(record[name]));
        if (!mayHoldHalves(text) || !cells.some((cell) => cell !== null && hasHalves(cell))) {
          return { cells, line };
        }
        const reason = "it holds half of a surrogate pair, which is no character";
        return { cells, line, refused: fault("row.form", { reason }) };
      }
      const reason = "it is not one whole object of JSON";
      return { cells: [text], line, refused: fault("row.form", { reason }) };
    });
  }
}

/** Values of a record at most: reading them is what a record costs. */
const MAX_VALUES = 20_000;
/** Characters of a record that are too few for more. */
const FEW = 4 * MAX_VALUES;

function checkValues({ text, line }: RecordText): void {
  if (text.length < FEW) return;
  let count = 0;
  for (let at = 0, isString = false; at < text.length; at++) {
    const code = text.charCodeAt(at);
    if (isString && code === BACKSLASH) at++;
    else if (code === QUOTE) isString = !isString;
    else if (!isString && (code === COMMA || code === OPENING_BRACE || code === OPENING_BRACKET))
      count++;
  }
  if (count <= MAX_VALUES) return;
  const reason = `the record on line ${line} has too many values`;
  throw problemOf([fault("file.limit", { reason, most: `${MAX_VALUES} values a record` })]);
}

function objectIn(text: string): Readonly<Record<string, unknown>> | null {
  try {
    const value = parse(text);
    if (typeof value !== "object" || value === null || Array.isArray(value)) return null;
    return isLosslessNumber(value) ? null : (value as Record<string, unknown>);
  } catch {
    return null;
  }
}

function cellOf(value: unknown): FileCell {
  if (value === undefined || value === null) return null;
  if (typeof value === "string") return value;
  if (isLosslessNumber(value)) return value.value;
  return typeof value === "boolean" ? String(value) : (stringify(value) ?? null);
}

/** The lines of a text that are not blank. */
async function* linesOf(text: AsyncIterable<string>): AsyncGenerator<readonly RecordText[]> {
  let rest = "";
  let line = 0;
  for await (const piece of text) {
    const lines = (rest + piece).split("\n");
    rest = lines.pop() ?? "";
    checkLength(rest, line + 1);
    yield lines.map((each) => ({ text: each, line: ++line })).filter(isFilled);
  }
  yield [{ text: rest, line: line + 1 }].filter(isFilled);
}

function isFilled({ text }: RecordText): boolean {
  return text.trim() !== "";
}

function checkLength(text: string, line: number): void {
  if (text.length <= LONGEST_RECORD) return;
  const reason = `the record on line ${line} is longer than ${LONGEST_RECORD} characters`;
  throw problemOf([fault("file.limit", { reason, most: `${LONGEST_RECORD} characters a record` })]);
}

/**
 * The elements of one array, each as its text: found by counting brackets outside of strings, so
 * that one element which is no JSON costs that element alone.
 */
async function* elementsOf(text: AsyncIterable<string>): AsyncGenerator<readonly RecordText[]> {
  const splitter = new ElementSplitter();
  for await (const piece of text) yield splitter.add(piece);
  splitter.end();
}

class ElementSplitter {
  #line = 1;
  #state: "before" | "inside" | "after" = "before";
  #depth = 0;
  #isString = false;
  #isEscaped = false;
  #kept = "";
  #begins = 1;

  add(piece: string): readonly RecordText[] {
    const found: RecordText[] = [];
    let start = 0;
    const take = (end: number) => {
      const text = this.#kept + piece.slice(start, end);
      this.#kept = "";
      start = end + 1;
      if (text.trim() !== "") found.push({ text: text.trim(), line: this.#begins });
    };
    for (let at = 0; at < piece.length; at++) {
      const code = piece.charCodeAt(at);
      if (code === 10) this.#line++;
      if (this.#isString) {
        if (this.#isEscaped) this.#isEscaped = false;
        else if (code === BACKSLASH) this.#isEscaped = true;
        else if (code === QUOTE) this.#isString = false;
        continue;
      }
      if (code <= 32) continue;
      if (this.#state !== "inside") {
        this.#outside(code);
        start = at + 1;
        continue;
      }
      if (this.#depth === 0 && code !== COMMA && code !== CLOSING_BRACKET) {
        if ((this.#kept + piece.slice(start, at)).trim() === "") this.#begins = this.#line;
      }
      if (code === QUOTE) this.#isString = true;
      else if (code === OPENING_BRACE || code === OPENING_BRACKET) this.#depth++;
      else if (this.#depth > 0 && (code === CLOSING_BRACE || code === CLOSING_BRACKET))
        this.#depth--;
      else if (code === CLOSING_BRACKET) {
        take(at);
        this.#state = "after";
      } else if (this.#depth === 0 && code === COMMA) take(at);
    }
    if (this.#state === "inside") this.#kept += piece.slice(start);
    checkLength(this.#kept, this.#begins);
    return found;
  }

  end(): void {
    if (this.#state === "before") throw broken("the file holds no array of objects");
    if (this.#state === "inside") {
      throw broken("the file ends inside its array, in the record that begins here", this.#begins);
    }
  }

  /** Before the array there is a mark at most, and after it nothing. */
  #outside(code: number): void {
    if (this.#state === "before" && code === OPENING_BRACKET) this.#state = "inside";
    else if (this.#state === "before")
      throw broken("the file holds no array of objects", this.#line);
    else throw broken("something stands behind the end of the array", this.#line);
  }
}

const QUOTE = 34;
const COMMA = 44;
const OPENING_BRACKET = 91;
const BACKSLASH = 92;
const CLOSING_BRACKET = 93;
const OPENING_BRACE = 123;
const CLOSING_BRACE = 125;
