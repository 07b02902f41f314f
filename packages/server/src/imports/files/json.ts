import type { FileOptions, TextEncoding } from "@orisma/contract";
import { fault } from "@orisma/core/internal";
import { isLosslessNumber, parse, stringify } from "lossless-json";
import { Turns, hasHalves, mayHoldHalves, problemOf, type Problem } from "../../http/index.js";
import { headText, textOf } from "./encoding.js";
import { JsonWalker, chosenList, listsIn, pathOf } from "./json-lists.js";
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
 * Opens objects of JSON (RFC 8259): one a line, the elements of one array, or those of a list inside an object. The
 * columns are the names of all objects, in the order in which they first come. Numbers keep every digit; values that
 * have parts of their own are kept as JSON text, or the parts of objects as columns of their own (`address.city`).
 */
export async function openJson(
  file: SpooledFile,
  format: "json" | "ndjson",
  encoding: TextEncoding,
  remarks: readonly string[],
  { records: wanted, flatten }: Pick<FileOptions, "records" | "flatten">,
): Promise<FileTable> {
  const inside = format === "json" ? await insideList(file, encoding, wanted) : null;
  const pieces = inside?.pieces ?? (format === "json" ? elementsOf : linesOf);
  const parts = flatten ? partsIn : null;
  const { headings, stated } = await namesIn(file, encoding, pieces, parts);
  const found =
    inside === null
      ? []
      : [
          `The records were found at ${inside.path}; with the format ndjson the object is one record.`,
        ];
  const all = [...remarks, ...found];
  let read = 0;
  return {
    description: { format, encoding, headingRows: 0, headingLine: 0, above: [], remarks: all },
    headings,
    rows: rowsOf(pieces(textOf(file, encoding, (bytes) => (read = bytes))), headings, parts),
    progress: () => read / file.bytes,
    stated: () => stated.cells,
    dateCells: () => new Map(),
  };
}

type JsonRecord = Readonly<Record<string, unknown>>;
type Parts = (record: JsonRecord) => JsonRecord;

/** Levels of objects whose parts are columns; what lies deeper is JSON text. */
const MAX_LEVELS = 5;

/** A record with the parts of its objects as members of its own; throws a problem where two have one name. */
function partsIn(record: JsonRecord): JsonRecord {
  const flat = Object.create(null) as Record<string, unknown>;
  const add = (name: string, value: unknown, level: number): void => {
    const isObject =
      typeof value === "object" &&
      value !== null &&
      !Array.isArray(value) &&
      !isLosslessNumber(value);
    if (!isObject || level === MAX_LEVELS) {
      if (name in flat) throw sameName(name);
      flat[name] = value;
      return;
    }
    for (const [part, inner] of Object.entries(value)) add(`${name}.${part}`, inner, level + 1);
  };
  for (const [name, value] of Object.entries(record)) add(name, value, 1);
  return flat;
}

function sameName(name: string): Problem {
  const reason = `“${name}” is a name of a record, and of a part of one of its objects too: read it without flatten`;
  return problemOf([fault("file.headings", { reason }, { path: "headings", value: name })]);
}

/** The records inside an object, and where they are; null for an array that is the whole document. */
async function insideList(
  file: SpooledFile,
  encoding: TextEncoding,
  wanted: string | undefined,
): Promise<{ readonly pieces: Pieces; readonly path: string } | null> {
  const text = () => textOf(file, encoding, () => undefined);
  const isArray = headText(file, encoding).trimStart().startsWith("[");
  if (isArray && (wanted === undefined || wanted === "$")) return null;
  const { path } = chosenList(await listsIn(text()), wanted);
  return { pieces: (all) => listElements(all, path), path: pathOf(path) };
}

/** The elements of the list at a path of a document, each as its text. */
async function* listElements(
  text: AsyncIterable<string>,
  path: readonly string[],
): AsyncGenerator<readonly RecordText[]> {
  const walker = new JsonWalker();
  const wanted = path.join("\0");
  let splitter: ElementSplitter | null = null;
  let isDone = false;
  for await (const piece of text) {
    const found: RecordText[] = [];
    for (let at = 0; at < piece.length; at++) {
      if (splitter === null) {
        const isHere = walker.step(piece, at) === "list" && !isDone;
        if (isHere && walker.path?.join("\0") === wanted) {
          splitter = new ElementSplitter(walker.line);
        }
        continue;
      }
      const end = splitter.listEnd(piece, at);
      found.push(...splitter.found());
      walker.line = splitter.line;
      at = end;
      if (!splitter.isAfter) continue;
      walker.leave();
      splitter = null;
      isDone = true;
    }
    yield found;
  }
  splitter?.end();
  walker.end();
}

/** The names of all objects, and what they hold: a record late in the file may be the first to have one. */
async function namesIn(
  file: SpooledFile,
  encoding: TextEncoding,
  pieces: Pieces,
  parts: Parts | null,
) {
  const names = new Set<string>();
  const filled = new Set<string>();
  const stated = new StatedTypes();
  const turns = new Turns();
  for await (const batch of pieces(textOf(file, encoding, () => undefined))) {
    for (const each of batch) {
      checkValues(each);
      await turns.pause();
      const record = objectIn(each.text);
      if (record === null) continue;
      for (const [name, value] of Object.entries(parts?.(record) ?? record)) {
        names.add(name);
        if (value === null) continue;
        filled.add(name);
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
  // An object that is absent once is no column beside its parts.
  for (const name of parts === null ? [] : [...names]) {
    const isBare = !filled.has(name) && [...names].some((each) => each.startsWith(`${name}.`));
    if (isBare) names.delete(name);
  }
  if (names.size === 0) throw broken("no object with a name and a value was found");
  const faults = headingFaults([...names]);
  if (faults.length > 0) throw problemOf(faults);
  return { headings: [...names], stated };
}

async function* rowsOf(
  batches: AsyncIterable<readonly RecordText[]>,
  headings: readonly string[],
  parts: Parts | null,
): AsyncGenerator<readonly FileRow[]> {
  for await (const batch of batches) {
    yield batch.map(({ text, line }): FileRow => {
      const record = objectIn(text);
      if (record !== null) {
        const flat = parts?.(record) ?? record;
        const cells = headings.map((name) => cellOf(flat[name]));
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
  #line: number;
  #state: "before" | "inside" | "after";
  #depth = 0;
  #isString = false;
  #isEscaped = false;
  #kept = "";
  #begins = 1;
  #found: RecordText[] = [];

  /** Begins before the array, or on a line inside it. */
  constructor(inside: number | null = null) {
    this.#line = inside ?? 1;
    this.#begins = this.#line;
    this.#state = inside === null ? "before" : "inside";
  }

  get line(): number {
    return this.#line;
  }

  get isAfter(): boolean {
    return this.#state === "after";
  }

  /** The elements that were whole since this was asked for last. */
  found(): readonly RecordText[] {
    const found = this.#found;
    this.#found = [];
    return found;
  }

  /** Takes a piece of a text from a place on; returns where its array ended, or the last place. */
  listEnd(piece: string, from: number): number {
    return this.#take(piece, from, true);
  }

  add(piece: string): readonly RecordText[] {
    this.#take(piece, 0, false);
    return this.found();
  }

  #take(piece: string, from: number, endsWithList: boolean): number {
    const found = this.#found;
    let start = from;
    const take = (end: number) => {
      const text = this.#kept + piece.slice(start, end);
      this.#kept = "";
      start = end + 1;
      if (text.trim() !== "") found.push({ text: text.trim(), line: this.#begins });
    };
    for (let at = from; at < piece.length; at++) {
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
        if (endsWithList) return at;
      } else if (this.#depth === 0 && code === COMMA) take(at);
    }
    if (this.#state === "inside") this.#kept += piece.slice(start);
    checkLength(this.#kept, this.#begins);
    return piece.length - 1;
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
