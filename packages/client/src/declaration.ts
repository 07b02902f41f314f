import { LineCounter, isMap, isScalar, parseDocument, stringify, type Document } from "yaml";
import type { ListingDetails, NewListing } from "@orisma/contract";

/** A place in a text, both counted from 1. */
export interface TextPlace {
  readonly line: number;
  readonly column: number;
}

/** A declaration of a listing as it stands in a text. */
export interface DeclarationText {
  readonly name: string;
  readonly declaration: NewListing;
  /** The place of what a path names, or of the nearest thing around it. */
  readonly placeOf: (path: string) => TextPlace;
}

/** A text is no declaration: it cannot be read, or it does not say of which listing it is. */
export class DeclarationUnread extends Error {
  constructor(
    message: string,
    readonly place: TextPlace,
  ) {
    super(message);
  }
}

/**
 * Reads a declaration, written in YAML 1.2 or JSON, which is a part of it; throws
 * {@link DeclarationUnread} where it cannot be read.
 */
export function readDeclarationText(text: string): DeclarationText {
  const lines = new LineCounter();
  const document = parseDocument(text, { lineCounter: lines, uniqueKeys: true });
  const placeAt = (offset: number): TextPlace => {
    const { line, col } = lines.linePos(offset);
    return { line, column: col };
  };
  const [error] = document.errors;
  if (error !== undefined) {
    const [message = ""] = error.message.split(" at line ");
    throw new DeclarationUnread(message, placeAt(error.pos[0]));
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
  if (typeof name !== "string") {
    throw new DeclarationUnread("it has no “name”", { line: 1, column: 1 });
  }
  return {
    name,
    declaration: declaration as NewListing,
    placeOf: (path) => placeAt(offsetOf(document, path.split("."))),
  };
}

/** A declaration as a text that {@link readDeclarationText} reads back as the same. */
export function declarationText(name: string, declaration: NewListing): string {
  return stringify({ name, ...declaration });
}

/** What a listing that serves was declared as. */
export function declarationOf(listing: ListingDetails): NewListing {
  const { name: _name, version: _version, shown: _shown, key: _key, ...open } = listing;
  const { rights: _rights, overrides: _overrides, ...rest } = open;
  const { filterColumns: _columns, namedWindows: _windows, broken: _broken, ...declaration } = rest;
  return declaration;
}

function isObject(value: unknown): value is object {
  return typeof value === "object" && value !== null && !Array.isArray(value);
}

/** Where the longest part of a path that the text has begins: a key rather than its value. */
function offsetOf(document: Document, path: readonly string[]): number {
  for (let length = path.length; length > 0; length--) {
    const [inside, last] = [path.slice(0, length - 1), path[length - 1] ?? ""];
    const parent = length === 1 ? document.contents : document.getIn(inside, true);
    if (isMap(parent)) {
      const pair = parent.items.find(({ key }) => isScalar(key) && String(key.value) === last);
      if (pair !== undefined && isScalar(pair.key)) return pair.key.range?.[0] ?? 0;
    }
    const node = document.getIn(path.slice(0, length), true) as
      | { range?: readonly number[] }
      | undefined;
    if (node?.range?.[0] !== undefined) return node.range[0];
  }
  return 0;
}

/**
 * The text with another value at a path, or without what is there where that is undefined; what else
 * stands in it, comments too, stays as it is.
 */
export function editedText(
  text: string,
  path: readonly (string | number)[],
  value: unknown,
): string {
  const document = parseDocument(text);
  if (value === undefined) document.deleteIn(path);
  else document.setIn(path, document.createNode(value));
  return String(document);
}
