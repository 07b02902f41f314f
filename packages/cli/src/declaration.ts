import { readFileSync } from "node:fs";
import { OrismaError, type NewListing } from "@orisma/client";
import { LineCounter, isMap, isScalar, parseDocument, type Document } from "yaml";
import { UsageError, faultText } from "./failure.js";

/** A declaration of a listing as it stands in a file. */
export interface DeclarationFile {
  readonly file: string;
  readonly name: string;
  readonly declaration: NewListing;
  /** The line and the column of what a path names, or of the nearest thing around it. */
  readonly placeOf: (path: string) => { readonly line: number; readonly column: number };
}

/**
 * Reads a declaration, written in YAML 1.2 or JSON, which is a part of it. Throws where it cannot be
 * read, with the line and the column.
 */
export function readDeclaration(file: string): DeclarationFile {
  let text: string;
  try {
    text = readFileSync(file, "utf8");
  } catch {
    throw new UsageError(`${file} cannot be read`);
  }
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, uniqueKeys: true });
  const placeAt = (offset: number) => {
    const { line, col } = lines.linePos(offset);
    return { line, column: col };
  };
  const [error] = document.errors;
  if (error !== undefined) {
    const { line, column } = placeAt(error.pos[0]);
    const [message = ""] = error.message.split(" at line ");
    throw new UsageError(`${file}:${line}:${column}: ${message}`);
  }
  const content = document.toJS() as unknown;
  const {
    name,
    $schema: _schema,
    ...declaration
  } = (isObject(content) ? content : {}) as {
    name?: unknown;
    $schema?: unknown;
  };
  if (typeof name !== "string") throw new UsageError(`${file}:1:1: it has no “name”`);
  return {
    file,
    name,
    declaration: declaration as NewListing,
    placeOf: (path) => placeAt(offsetOf(document, path.split("."))),
  };
}

function isObject(value: unknown): value is object {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** Where the longest part of a path that the file has begins: a key rather than its value. */
function offsetOf(document: Document, path: readonly string[]): number {
  for (let length = path.length; length > 0; length--) {
    const [inside, last] = [path.slice(0, length - 1), path[length - 1] ?? ""];
    const parent = length === 1 ? document.contents : document.getIn(inside, true);
    if (isMap(parent)) {
      const pair = parent.items.find(({ key }) => isScalar(key) && String(key.value) === last);
      if (pair !== undefined && isScalar(pair.key)) return pair.key.range?.[0] ?? 0;
    }
    const node = document.getIn(path.slice(0, length), true) as
      { range?: readonly number[] } | undefined;
    if (node?.range?.[0] !== undefined) return node.range[0];
  }
  return 0;
}

/** The faults of a declaration, each with its place in the file, in the order of the file. */
export function faultsIn(
  { file, placeOf }: DeclarationFile,
  error: unknown,
): readonly string[] | null {
  if (!(error instanceof OrismaError)) return null;
  const faults = error.problem?.faults ?? [];
  if (error.status !== 422 || faults.length === 0) return null;
  return faults
    .map((fault) => ({ fault, place: placeOf(fault.path ?? "") }))
    .sort((a, b) => a.place.line - b.place.line || a.place.column - b.place.column)
    .map(({ fault, place }) => `${file}:${place.line}:${place.column}: ${faultText(fault)}`);
}
